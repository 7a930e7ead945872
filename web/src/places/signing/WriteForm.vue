<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data as answer, Refusal, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import { useDirectory } from '../../queries/people'
import { formKeys, useForm } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import FoundPlaces from './FoundPlaces.vue'
import PaperFrame from './PaperFrame.vue'
import PartySentence from './PartySentence.vue'
import PlacingDesk from './PlacingDesk.vue'
import { letterOf, usePlacing } from './placing'

/** A form is written: its parties by what they are, its places on the pages; it is kept as one goes, and counts once one says so. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const queries = useQueryClient()
const { data: page, error } = useForm(() => props.id)
const { data: directory } = useDirectory()
const colleagues = computed(() => (directory.value?.accounts ?? []).filter((a) => a.standing !== 'guest' && !a.ended).map((a) => a.person))
const definition = ref<Schemas['FormDefinition']>()
const words = ref({ name: '', description: '', shared: false })
const placing = usePlacing(() => page.value?.pages ?? [])
const state = shallowRef<'kept' | 'keeping' | 'failed'>('kept')
const problem = ref('')
/** What was last kept, so that reading it anew is no change. */
let kept = ''
const asKept = () => JSON.stringify([words.value, definition.value, placing.places.value])
watch(
  page,
  (p) => {
    if (!p || definition.value) return
    definition.value = JSON.parse(JSON.stringify(p.definition)) as Schemas['FormDefinition']
    if (!definition.value.plan.parties.length) addParty()
    words.value = { name: p.form.name, description: p.form.description, shared: p.form.shared }
    placing.take(p.definition.plan.places, true)
    kept = asKept()
  },
  { immediate: true },
)
function addParty() {
  const all = definition.value!.plan.parties
  all.push({ role: '', turn: (all.at(-1)?.turn ?? 0) + 1, name: '', email: '', known: 'link', signs: true, mayHand: false })
}
function lessParty(i: number) {
  const plan = definition.value!.plan
  plan.parties.splice(i, 1)
  placing.places.value = placing.places.value.filter((p) => p.party !== i).map((p) => (p.party > i ? { ...p, party: p.party - 1 } : p))
  // Turns count on from each other.
  let turn = 0
  let before = 0
  for (const p of plan.parties) {
    if (p.turn !== before) turn++
    before = p.turn
    p.turn = turn
  }
}
let keeping: Promise<void> = Promise.resolve()
const keep = useDebounceFn(() => (keeping = keeping.then(keepNow)), 600)
async function keepNow() {
  const now = asKept()
  if (now === kept || !page.value || !definition.value) return
  try {
    const body = {
      ...words.value,
      definition: { ...definition.value, plan: { ...definition.value.plan, places: placing.places.value } },
      seen: page.value.form.changedAt,
    }
    const next = await answer(api.PUT('/signing-forms/{id}', { params: { path: { id: props.id } }, body }))
    kept = now
    queries.setQueryData(formKeys.one(props.id), next)
    state.value = 'kept'
    problem.value = ''
  } catch (e) {
    state.value = 'failed'
    problem.value = e instanceof Refusal ? said.problem(e) : said.problem(e as Error)
  }
}
watch(
  [words, definition, placing.places],
  () => {
    if (!definition.value || asKept() === kept) return
    state.value = 'keeping'
    void keep()
  },
  { deep: true },
)
const parties = computed(() =>
  (definition.value?.plan.parties ?? []).map((p, i) => p.name || p.role || t('signing.partyOf', { letter: letterOf(i) })),
)
const flaw = computed(() => page.value?.problems[0])
const says = computed(() => {
  const p = flaw.value
  if (state.value === 'failed') return problem.value
  if (!p) return ''
  const [what, n] = p.at.split('/')
  const i = what === 'parties' ? Number(n) : 0
  return t(`signing.flaw.${p.flaw}`, { letter: letterOf(i), n: n ?? '', name: parties.value[i] ?? '' })
})
const writing = computed(() => page.value?.form.inWriting || state.value !== 'kept' || page.value?.newer)
const { act, busy, wrong } = useAct()
async function release() {
  await keeping.then(keepNow)
  if (state.value === 'failed') return
  const n = (page.value?.form.edition ?? 0) + 1
  if (
    await act(() => answer(api.POST('/signing-forms/{id}/editions', { params: { path: { id: props.id } } })), {
      done: t('signforms.counts', { n }),
    })
  )
    await queries.invalidateQueries({ queryKey: formKeys.one(props.id) })
}
async function remove() {
  if (await act(() => answer(api.DELETE('/signing-forms/{id}', { params: { path: { id: props.id } } })), { done: t('signforms.removed') }))
    void router.push('/signing/forms')
}
</script>

<template>
  <main v-if="!page || !definition" id="content">
    <Failed v-if="error && !page" :error="error" />
    <p v-else-if="!page || !definition" class="quiet pad">{{ t('common.loading') }}</p>
  </main>
  <PaperFrame v-else :caution="!!says || !!wrong">
    <template #head>
      <div class="top">
        <RouterLink class="go small" to="/signing/forms">← {{ t('signforms.title') }}</RouterLink>
        <h1>
          <WordField :label="t('signforms.name')" :value="words.name" :may="page.form.writes" @set="words.name = $event || words.name" />
        </h1>
        <RouterLink class="no small" :to="`/d/${page.form.ref}`">{{ page.form.ref }}</RouterLink>
        <span class="small quiet">
          {{ page.form.edition ? t('signforms.edition', { n: page.form.edition }) : t('signforms.inWriting') }},
          {{ t('signforms.used', page.form.used) }}
        </span>
        <span class="small quiet kept" role="status">{{ t(`signforms.state.${state}`) }}</span>
        <RouterLink v-if="page.form.edition" class="btn btn-plain btn-small" :to="`/signing/forms/${id}/send`">
          {{ t('signforms.send') }}
        </RouterLink>
      </div>
      <PartySentence
        v-for="(p, i) in definition.plan.parties"
        :key="i"
        :party="p"
        :at="i"
        :before="definition.plan.parties[i - 1]"
        :colleagues="colleagues"
        :may="page.form.writes"
        @remove="lessParty(i)"
      />
      <p class="terms">
        {{ t('signforms.within') }}
        <SentenceSelect
          v-model="definition.days"
          :label="t('signing.until')"
          :options="[3, 7, 10, 14, 30, 60].map((value) => ({ value, words: t('signing.days', value) }))"
          then=","
        />
        <SentenceSelect
          v-model="definition.plan.each"
          :label="t('signing.sealing')"
          :options="[false, true].map((value) => ({ value, words: t(`signing.sealings.${value ? 'each' : 'end'}`) }))"
          then=","
        />
        <SentenceSelect
          v-model="definition.told"
          :label="t('signing.password')"
          :options="[false, true].map((value) => ({ value, words: t(value ? 'signforms.told' : 'signforms.untold') }))"
          then=","
        />
        <SentenceSelect
          v-model="words.shared"
          :label="t('signforms.sharing')"
          :disabled="!page.form.mine"
          :options="[false, true].map((value) => ({ value, words: t(value ? 'signforms.shared' : 'signforms.unshared') }))"
          then="."
        />
        {{ ' ' }}
        <button type="button" class="plus" @click="addParty">{{ t('signforms.plusParty') }}</button>
      </p>
    </template>
    <PlacingDesk
      :document="page.form.itemId"
      :version="page.version"
      :pages="page.pages"
      :placing="placing"
      :parties="parties"
      :wrong="flaw?.at"
      :marked="page.marked"
    >
      <template #before>
        <FoundPlaces
          v-if="!page.marked.length && !placing.places.value.length"
          :document="page.form.itemId"
          :placing="placing"
          :parties="parties.length"
        />
      </template>
      <template #after>
        <p v-if="page.blanks.length" class="blanks small">
          <b>{{ t('signforms.blanks') }}</b>
          {{ said.list(page.blanks) }}
        </p>
        <p class="small quiet">{{ t('signforms.blanksHint') }}</p>
        <label class="field">
          <b>{{ t('signforms.description') }}</b>
          <input v-model.lazy="words.description" class="form-control" maxlength="1000" />
        </label>
        <label class="field">
          <b>{{ t('signing.tell') }}</b>
          <textarea v-model.lazy="definition.message" class="form-control" rows="3" maxlength="4000"></textarea>
        </label>
        <p class="field">
          <button type="button" class="btn btn-text" :disabled="busy" @click="remove">{{ t('signforms.remove') }}</button>
        </p>
      </template>
    </PlacingDesk>
    <template #says>
      {{
        wrong ||
        says ||
        (page.newer ? t('signforms.newer') : writing ? t('signforms.ready') : t('signforms.asCounts', { n: page.form.edition }))
      }}
    </template>
    <template #act>
      <button type="button" class="btn btn-primary" :disabled="busy || !!flaw || !writing" data-release @click="release">
        {{ t('signforms.release', { n: page.form.edition + 1 }) }}
      </button>
    </template>
  </PaperFrame>
</template>

<style scoped>
.top {
  display: flex;
  align-items: baseline;
  gap: var(--tb-s4);
  flex-wrap: wrap;
}
h1 {
  font-size: var(--tb-title);
  margin: 0;
}
.kept {
  margin-left: auto;
}
.head > .terms {
  margin: 2px 0;
}
.pad {
  padding: 24px;
}
.blanks {
  margin-top: var(--tb-s4);
}
.field {
  display: block;
  margin-top: var(--tb-s4);
}
@media (max-width: 900px) {
}
</style>
