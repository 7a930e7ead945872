<script setup lang="ts">
import Sheet from '../../parts/Sheet.vue'
import { useAccessDraft } from '../../queries/sharing'
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconUserPlus from '~icons/ph/user-plus'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useWallClock } from '../../app/wallclock'
import { useSaid } from '../../sentences/said'
import Door from '../../parts/Door.vue'
import UntilGloss from '../../sentences/UntilGloss.vue'
import WritingSentence from '../../sentences/WritingSentence.vue'
import LevelChoice from './LevelChoice.vue'
import PeopleField, { type Named } from './PeopleField.vue'
import { levels, useAccessWords } from './words'

/** Access for people, written as a sentence over what was chosen. */
type Term = NonNullable<Schemas['Part']['term']>
const props = defineProps<{ items: string[]; folder: boolean; manager: boolean }>()
const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const said = useSaid()
const words = useAccessWords()
const to = ref<Named[]>([])
const terms = reactive<{ level: (typeof levels)[number]; may: string[]; until?: string; onward: boolean; message: string }>({
  level: 'view',
  may: [],
  onward: false,
  message: '',
})
const opened = ref<Term>()
const { inDays } = useWallClock()
const week = computed(() => inDays(7, said.now.value))
const year = computed(() => inDays(366, said.now.value))

const body = computed(() => ({
  items: props.items,
  to: to.value.map((n) => ({ kind: n.kind, id: n.id, email: n.email })),
  level: terms.level,
  may: terms.level === 'own-set' ? terms.may : undefined,
  until: terms.until,
  onward: terms.onward,
  message: terms.message || undefined,
}))
const asked = computed(() => ({ ...body.value, message: undefined }))
const { data: draft, error } = useAccessDraft(asked)
/** The sentence after its people, who stand above as words of their own. */
const sentence = computed(
  () => draft.value?.sentence.filter((p) => p.term !== 'who').map((p, i) => (i ? p : { ...p, text: p.text.trimStart() })) ?? [],
)
const controls: Term[] = ['may', 'until', 'onward']

/** Whoever is outside gets an end, unless one says otherwise. */
const usual = ref<string>()
let ended = false
watch(
  () => terms.until,
  (now) => (ended ||= now !== usual.value),
)
watch(
  () => to.value.some((n) => n.outside),
  (outside) => {
    if (!outside || ended || terms.until) return
    usual.value = terms.until = inDays(28, said.now.value)
  },
)
/** Terms that were typed along with the people. */
const rest = ref('')
function spoken(r: Schemas['TypedTerms']) {
  if (r.level) terms.level = r.level as (typeof levels)[number]
  if (r.onward !== undefined) terms.onward = r.onward
  if (r.until) terms.until = r.until
  if (r.noEnd) terms.until = undefined
}
const { act, busy, wrong } = useAct()
async function give() {
  const done = await act(() => api.POST('/access', { body: body.value }), {
    done: t('access.given', { who: to.value.map((n) => n.name).join(', ') }),
  })
  if (done) emit('close')
}
function toggle(term: Term) {
  if (term === 'onward') terms.onward = !terms.onward
  else opened.value = opened.value === term ? undefined : term
}
function escape() {
  if (opened.value) opened.value = undefined
  else emit('close')
}
</script>

<template>
  <Sheet class="share" :busy="!draft && !error" :label="t('access.title', { n: items.length }, items.length)" @escape="escape">
    <div class="write">
      <div class="acts head">
        <h2 class="acts sheet-title">
          <Door state="ajar" />
          {{ t('access.title', { n: items.length }, items.length) }}
        </h2>
        <slot></slot>
      </div>
      <PeopleField v-model="to" v-model:rest="rest" :items="items" @terms="spoken" />
      <p v-if="rest && to.length" class="small t-caution" role="status">{{ t('access.nobodyYet', { word: rest }) }}</p>
      <WritingSentence v-if="draft" :sentence="sentence" :controls="controls" :open="opened" @toggle="toggle">
        <LevelChoice
          v-if="opened === 'may'"
          :level="terms.level"
          :may="terms.may"
          :folder="folder"
          :manager="manager"
          @set="(l, m) => ((terms.level = l), (terms.may = m))"
        />
        <template v-else-if="opened === 'until'">
          <UntilGloss :until="terms.until ?? ''" :latest="draft.ownUntil ?? year" free @set="terms.until = $event" />
          <p class="without">
            <button v-if="!draft.ownUntil" type="button" @click="((terms.until = undefined), (opened = undefined))">
              {{ t('access.withoutEnd') }}
            </button>
          </p>
        </template>
      </WritingSentence>
      <div class="plus-row">
        <button v-if="!terms.until || terms.until === usual" type="button" class="plus" @click="((terms.until = week), (opened = 'until'))">
          {{ t('access.plusWeek') }}
        </button>
        <button v-if="!terms.onward && terms.level !== 'manage'" type="button" class="plus" @click="terms.onward = true">
          {{ t('access.plusOnward') }}
        </button>
      </div>
      <p v-if="draft?.ownUntil" class="small quiet">{{ t('access.ownUntil', { when: said.when(draft.ownUntil) }) }}</p>
      <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
      <div v-if="draft && to.length" class="consequence" aria-live="polite">
        <div v-for="(line, i) in words.consequences(draft.consequence)" :key="i">
          <Door :state="draft.consequence.effects.some((e) => e.outside && e.gains) && i === 0 ? 'ajar' : 'closed'" />
          <span>{{ line }}</span>
          <span></span>
        </div>
      </div>
    </div>
    <div class="side">
      <div v-if="draft?.invited.length">
        <h3>{{ t('access.invitation', { n: draft.invited.length }, draft.invited.length) }}</h3>
        <p class="small quiet">{{ t('access.invitationHint') }}</p>
      </div>
      <div>
        <label for="access-message">
          <b>{{ t('access.tell') }}</b>
        </label>
        <p class="small quiet">{{ t('access.tellHint') }}</p>
        <textarea id="access-message" v-model="terms.message" class="form-control" rows="4" maxlength="5000"></textarea>
      </div>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <div class="acts end">
        <button type="button" class="btn btn-primary" :disabled="!to.length || !!rest || busy" @click="give">
          <IconUserPlus aria-hidden="true" />
          {{ t('access.give') }}
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
  min-height: 440px;
}
.side textarea {
  font:
    0.9375rem/1.375rem 'Literata Variable',
    serif;
  margin-top: var(--tb-s1);
}
.without button {
  color: var(--tb-action);
  margin-top: 6px;
}
</style>
