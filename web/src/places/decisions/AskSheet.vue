<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconSeal from '~icons/ph/seal-check'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Choices from '../../parts/Choices.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import Sheet from '../../parts/Sheet.vue'
import { useAskDraft } from '../../queries/decisions'
import { useRoutesOf } from '../../queries/routes'
import { useSaid } from '../../sentences/said'
import PeopleField, { type Named } from '../sharing/PeopleField.vue'
import { useDecisionWords } from './words'

/** Approval asked for by hand, as a sentence under the documents that it is about. */
const props = defineProps<{ items: string[]; what: string; folder?: string; folders: { id: string; number: string; name: string }[] }>()
const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const said = useSaid()
const { days } = useDecisionWords()
const to = ref<Named[]>([])
const rest = ref('')
const terms = reactive<{
  do: 'approve' | 'review' | 'work'
  rule: Schemas['AskRule']
  of: number
  days: string
  remind: boolean
  late: boolean
  moveTo?: string
  message: string
}>({ do: 'approve', rule: 'all', of: 1, days: '2', remind: false, late: false, message: '' })
const opened = ref<'rule'>()
const askable = computed(() => to.value.filter((n) => n.id && n.kind !== 'everyone'))
const addresses = computed(() => to.value.some((n) => !n.id))
const people = computed(() => askable.value.length > 1 || askable.value.some((n) => n.kind === 'group'))
const rule = computed(() => (people.value ? terms.rule : 'any'))
const within = computed(() => (terms.days === '' ? undefined : { n: Number(terms.days), unit: 'days' as const }))
const body = computed<Schemas['AskWish']>(() => ({
  documents: props.items,
  do: terms.do,
  who: askable.value.map((n) => (n.kind === 'group' ? { group: n.id } : { person: n.id })),
  rule: rule.value,
  of: rule.value === 'some' ? terms.of : undefined,
  within: within.value,
  remind: terms.remind && within.value && within.value.n > 1 ? { n: 1, unit: 'days' } : undefined,
  lateTell: terms.late && within.value ? [{ role: 'starter' }] : undefined,
  message: terms.message || undefined,
  moveTo: terms.moveTo,
  gives: true,
}))
const asked = computed(() => ({ ...body.value, message: undefined }))
const { data: draft, error } = useAskDraft(asked)
const ends = (r: Schemas['AskRule']) => draft.value?.ends.find((e) => e.rule === r)?.at
const one = computed(() => (draft.value?.documents.length === 1 ? draft.value.documents[0] : undefined))
const underWay = computed(() => draft.value?.documents.filter((d) => d.underWay) ?? [])
const { data: routes } = useRoutesOf(() => props.folder)
const byHand = computed(() => routes.value?.filter((r) => r.byHand) ?? [])

const ruleWords = computed(() =>
  (['any', 'all', 'turn', 'some'] as const).map((value) => ({ value, words: t(`decisions.ask.rule.${value}`), why: why(value) })),
)
function why(r: Schemas['AskRule']) {
  const end = ends(r)
  const words = t(`decisions.ask.ruleWhy.${r}`, { n: terms.of, all: askable.value.length })
  return end ? `${words} · ${t('decisions.due', { when: said.day(end) })}` : words
}
const { act, busy, wrong } = useAct()
async function ask() {
  const who = to.value.map((n) => n.name)
  const done = await act(() => api.POST('/decisions', { body: body.value }), {
    done: t('decisions.ask.done', { who: said.list(who) }, who.length === 1 ? 2 : 1),
  })
  if (done) emit('close')
}
async function start(route: Schemas['RouteLine']) {
  const done = await act(
    () =>
      api.POST('/routes/{id}/runs', {
        params: { path: { id: route.id } },
        body: { documents: props.items, note: terms.message || undefined },
      }),
    {
      done: t('decisions.ask.started', { name: route.name }),
    },
  )
  if (done) emit('close')
}
function escape() {
  if (opened.value) opened.value = undefined
  else emit('close')
}
</script>

<template>
  <Sheet class="asks" :busy="askable.length > 0 && !draft && !error" :label="t('decisions.ask.verb')" @escape="escape">
    <div class="write">
      <h2 class="acts sheet-title">
        <IconSeal aria-hidden="true" />
        {{ items.length === 1 ? t('decisions.ask.title', { what: one?.ref ?? what }) : t('decisions.ask.many', { n: items.length }) }}
      </h2>
      <p class="terms lead">{{ t('decisions.ask.whoms') }}</p>
      <PeopleField v-model="to" v-model:rest="rest" :items="items" />
      <p v-if="rest && to.length" class="small t-caution" role="status">{{ t('decisions.ask.nobodyYet', { word: rest }) }}</p>
      <p v-if="addresses" class="small t-caution" role="status">{{ t('decisions.ask.onlyPeople') }}</p>
      <p class="terms">
        <template v-if="people">
          <button type="button" class="w" :aria-expanded="opened === 'rule'" @click="opened = opened ? undefined : 'rule'">
            {{ t(`decisions.ask.rule.${terms.rule}`) }}
          </button>
          {{ ' ' }}
        </template>
        {{ t('decisions.ask.to') }}
        <SentenceSelect
          v-model="terms.do"
          :label="t('decisions.ask.verb')"
          :options="(['approve', 'review', 'work'] as const).map((value) => ({ value, words: t(`decisions.ask.do.${value}`) }))"
        />
        {{ ' ' }}
        <b>{{ one ? t('decisions.ask.version', { n: one.version }) : t('decisions.ask.versions') }}</b>
        {{ ' ' }}{{ terms.days ? t('decisions.ask.within') : '' }}
        <SentenceSelect
          v-model="terms.days"
          :label="t('decisions.ask.timeLabel')"
          :options="
            ['1', '2', '3', '5', '10', '20', ''].map((value) => ({ value, words: value ? days(Number(value)) : t('decisions.ask.noTime') }))
          "
          then="."
        />
      </p>
      <div v-if="opened === 'rule'" class="gloss">
        <Choices :options="ruleWords" :chosen="terms.rule" :label="t('decisions.ask.ruleLabel')" @choose="terms.rule = $event">
          <p v-if="terms.rule === 'some'" class="small many">
            <label v-for="n in Math.max(1, askable.length)" :key="n">
              <input v-model="terms.of" type="radio" name="of" :value="n" />
              {{ n }}
            </label>
          </p>
        </Choices>
      </div>
      <div class="plus-row">
        <button v-if="!terms.remind && Number(terms.days) > 1" type="button" class="plus" @click="terms.remind = true">
          {{ t('decisions.ask.plusRemind') }}
        </button>
        <button v-if="!terms.late && terms.days" type="button" class="plus" @click="terms.late = true">
          {{ t('decisions.ask.plusLate') }}
        </button>
        <button v-if="!terms.moveTo && folders.length" type="button" class="plus" @click="terms.moveTo = folders.at(-1)!.id">
          {{ t('decisions.ask.plusMove') }}
        </button>
      </div>
      <p v-if="terms.remind && Number(terms.days) > 1" class="terms more">
        {{ t('decisions.ask.remind', { n: days(1) }) }}
        <button type="button" class="go small" @click="terms.remind = false">{{ t('decisions.ask.takeOff') }}</button>
      </p>
      <p v-if="terms.late && terms.days" class="terms more">
        {{ t('decisions.ask.late') }}
        <button type="button" class="go small" @click="terms.late = false">{{ t('decisions.ask.takeOff') }}</button>
      </p>
      <p v-if="terms.moveTo" class="terms more">
        {{ t('decisions.ask.moveLabel') }}
        <SentenceSelect
          v-model="terms.moveTo"
          :label="t('decisions.ask.moveLabel')"
          :options="folders.map((f) => ({ value: f.id as string, words: `${f.number} ${f.name}` }))"
          then="."
        />
        <button type="button" class="go small" @click="terms.moveTo = undefined">{{ t('decisions.ask.takeOff') }}</button>
      </p>
      <p v-if="error && askable.length" class="t-caution" role="alert">{{ said.problem(error) }}</p>
      <div v-if="draft && askable.length" class="means" aria-live="polite">
        <p v-if="one">{{ t('decisions.ask.counts', { n: one.version, sha: `${one.sha256.slice(0, 8)}…${one.sha256.slice(-8)}` }) }}</p>
        <p v-else>{{ t('decisions.ask.countsMany') }}</p>
        <p v-for="d in underWay" :key="d.id" class="t-caution">{{ t('decisions.ask.underWay', { ref: d.ref }) }}</p>
        <p v-for="p in draft.asked.filter((a) => a.for)" :key="`for${p.id}`">
          {{ t('decisions.ask.standsIn', { name: p.name, for: p.for }) }}
        </p>
        <p v-for="p in draft.asked.filter((a) => a.awayFrom)" :key="`away${p.id}`">
          <b>{{ t('decisions.ask.away', { name: p.name, from: said.day(p.awayFrom!), to: said.day(p.awayTo!) }) }}</b>
          {{ p.due ? ` ${t('decisions.ask.until', { when: said.when(p.due) })}` : '' }}
        </p>
        <p v-for="p in draft.authors" :key="`author${p.id}`">{{ t('decisions.ask.author', { name: p.name }) }}</p>
        <p v-for="p in draft.lacks" :key="`lacks${p.id}`" :class="{ 't-caution': !draft.gives }">
          {{
            draft.gives
              ? t(draft.documents.length > 1 ? 'decisions.ask.lacksMany' : 'decisions.ask.lacks', { name: p.name, n: p.n })
              : t('decisions.ask.lacksNot', { name: p.name })
          }}
        </p>
      </div>
    </div>
    <div class="side">
      <div>
        <label for="ask-message">
          <b>{{ t('decisions.ask.tell') }}</b>
        </label>
        <p class="small quiet">{{ t('decisions.ask.tellHint') }}</p>
        <textarea id="ask-message" v-model="terms.message" class="form-control" rows="4" maxlength="1000"></textarea>
      </div>
      <div v-if="byHand.length">
        <h3>{{ t('decisions.ask.byRoute') }}</h3>
        <p v-for="r in byHand" :key="r.id" class="small">
          <button type="button" class="go" :disabled="busy" @click="start(r)">{{ t('decisions.ask.startRoute', { name: r.name }) }}</button>
          {{ r.purpose }}
        </p>
      </div>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <div class="acts end">
        <button type="button" class="btn btn-primary" :disabled="!askable.length || addresses || !!rest || busy" @click="ask">
          <IconSeal aria-hidden="true" />
          {{ t('decisions.ask.verb') }}
        </button>
        <button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button>
      </div>
    </div>
  </Sheet>
</template>

<style scoped>
.desk-sheet {
  max-height: calc(100% - 90px);
  overflow-y: auto;
}
.write {
  min-height: 400px;
}
.lead {
  margin-bottom: 0;
}
.terms.more {
  font-size: var(--tb-read);
  margin-bottom: var(--tb-s2);
}
.means {
  border-top: 1px solid var(--tb-ink);
  padding-top: var(--tb-s2);
}
.means p {
  margin-bottom: var(--tb-s2);
  overflow-wrap: anywhere;
}
.many {
  display: flex;
  gap: var(--tb-s3);
  margin: 0 8px;
}
.side textarea {
  font:
    0.9375rem/1.375rem 'Literata Variable',
    serif;
  margin-top: var(--tb-s1);
}
</style>
