<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useDirectory } from '../../queries/people'
import { useNameable } from '../../queries/remarks'

/**
 * What one writes into a remark; @ offers those who can see the thing. Whoever may pass it on is offered the others, too, and
 * lets them in by one act before they are named.
 */
const props = defineProps<{
  item: string
  act: string
  hint: string
  busy: boolean
  wrong?: string
  begun?: string
  focus?: boolean
  escapes?: boolean
  mayShare?: boolean
}>()
const emit = defineEmits<{ say: [text: string, mentions: string[]]; discard: [] }>()
const { t } = useI18n()
const text = ref(props.begun ?? '')
const field = ref<HTMLTextAreaElement>()
const at = ref<number>()
const sought = ref('')
const marked = ref(0)
const { data: people } = useNameable(
  () => props.item,
  () => text.value.includes('@') || at.value !== undefined,
)
const { data: directory } = useDirectory(() => !!props.mayShare && at.value !== undefined)
type Offer = Pick<Schemas['Person'], 'id' | 'name' | 'outside'> & { sees: boolean }
const most = 6
const offered = computed<Offer[]>(() => {
  if (at.value === undefined || !people.value) return []
  const fits = (p: { name: string }) => p.name.toLowerCase().includes(sought.value.toLowerCase())
  const seers = new Set(people.value.map((p) => p.id))
  const others = sought.value ? (directory.value?.accounts ?? []).filter((a) => !a.ended).map((a) => a.person) : []
  return [
    ...people.value.filter(fits).map((p) => ({ ...p, sees: true })),
    ...others.filter((p) => fits(p) && !seers.has(p.id)).map((p) => ({ ...p, sees: false })),
  ].slice(0, most)
})
/** Who was chosen and cannot open the thing yet. */
const outsideOfIt = ref<Offer>()
const { act: give, busy: giving, wrong: notGiven } = useAct()
async function letIn() {
  const { id, name } = outsideOfIt.value!
  const body = { items: [props.item], to: [{ id }], level: 'remark' as const }
  if (!(await give(() => api.POST('/access', { body }), { done: t('remarks.letIn', { who: name }) }))) return
  outsideOfIt.value = undefined
  await insert(name)
}
/** From where to where the name stands that is being written. */
const span = ref<[number, number]>([0, 0])
/** Those whose names stand in the text. */
const named = computed(() => (people.value ?? []).filter((p) => text.value.includes(`@${p.name}`)))
onMounted(() => props.focus && field.value?.focus({ preventScroll: true }))

function typed() {
  const end = field.value?.selectionStart ?? 0
  const before = /(?:^|\s)@([^@\n]{0,30})$/.exec(text.value.slice(0, end))
  at.value = before ? end - before[1].length - 1 : undefined
  sought.value = before?.[1] ?? ''
  marked.value = 0
}
async function take(p: Offer) {
  if (at.value === undefined) return
  span.value = [at.value, field.value?.selectionStart ?? text.value.length]
  at.value = undefined
  if (p.sees) await insert(p.name)
  else outsideOfIt.value = p
}
async function insert(name: string) {
  const [start, end] = text.value[span.value[0]] === '@' ? span.value : [text.value.length, text.value.length]
  text.value = `${text.value.slice(0, start)}@${name} ${text.value.slice(end)}`
  await nextTick()
  field.value?.focus()
  field.value?.setSelectionRange(start + name.length + 2, start + name.length + 2)
}
function key(e: KeyboardEvent) {
  if (offered.value.length) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key]
    if (step) marked.value = (marked.value + step + offered.value.length) % offered.value.length
    else if (e.key === 'Enter' || e.key === 'Tab') void take(offered.value[marked.value])
    else if (e.key === 'Escape') at.value = undefined
    else return
    e.preventDefault()
    e.stopPropagation()
  } else if (e.key === 'Enter' && (e.ctrlKey || e.metaKey)) say()
  else if (e.key === 'Escape' && props.escapes) {
    e.stopPropagation()
    emit('discard')
  }
}
let sent = ''
function say() {
  if (!text.value.trim() || props.busy) return
  sent = text.value
  // The button rests until it is said; one stays where one wrote.
  field.value?.focus({ preventScroll: true })
  emit(
    'say',
    text.value,
    named.value.map((p) => p.id),
  )
}
/** What was said is said; one can go on where one was. What was written since then stays. */
function clear() {
  if (text.value === sent) text.value = ''
  field.value?.focus({ preventScroll: true })
}
defineExpose({ clear })
</script>

<template>
  <form class="write" @submit.prevent="say">
    <textarea
      ref="field"
      v-model="text"
      class="form-control"
      rows="2"
      maxlength="10000"
      :placeholder="hint"
      :aria-label="hint"
      aria-autocomplete="list"
      aria-controls="named-people"
      :aria-activedescendant="offered.length ? `named-${offered[marked]?.id}` : undefined"
      @input="typed"
      @click="typed"
      @keydown="key"
    ></textarea>
    <ul id="named-people" role="listbox" class="people" :class="{ none: !offered.length }" :aria-label="t('remarks.people')">
      <li
        v-for="(p, i) in offered"
        :id="`named-${p.id}`"
        :key="p.id"
        role="option"
        :aria-selected="i === marked"
        @pointerdown.prevent="take(p)"
      >
        {{ p.name }}
        <span v-if="p.outside" class="small quiet">{{ t('remarks.guest') }}</span>
        {{ ' ' }}
        <span v-if="!p.sees" class="small quiet">{{ t('remarks.cannotOpen') }}</span>
      </li>
    </ul>
    <div v-if="outsideOfIt" class="let-in small">
      <p>{{ t('remarks.letInHint', { who: outsideOfIt.name }) }}</p>
      <p v-if="notGiven" class="t-caution" role="alert">{{ notGiven }}</p>
      <span class="acts">
        <button type="button" class="btn btn-primary btn-small" :disabled="giving" @click="letIn">{{ t('remarks.letInDo') }}</button>
        <button type="button" class="btn btn-text btn-small" @click="outsideOfIt = undefined">{{ t('common.discard') }}</button>
      </span>
    </div>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button class="btn btn-primary btn-small" :disabled="busy || !text.trim()">{{ act }}</button>
      <slot></slot>
      <button v-if="escapes" type="button" class="btn btn-text btn-small" @click="$emit('discard')">{{ t('common.discard') }}</button>
      <span v-if="named.length" class="small quiet">{{ t('remarks.willBeTold', { who: named.map((p) => p.name).join(', ') }) }}</span>
    </div>
  </form>
</template>

<style scoped>
.write {
  position: relative;
}
textarea {
  resize: vertical;
  min-height: 52px;
  font-size: var(--tb-text);
}
.people {
  position: absolute;
  z-index: 3;
  left: 0;
  right: 0;
  list-style: none;
  margin: 0;
  padding: 2px 0;
  background: var(--tb-sheet);
  border: 1px solid var(--tb-edge);
}
.let-in {
  border-left: 3px solid var(--tb-action);
  padding: var(--tb-s1) 0 var(--tb-s1) var(--tb-s3);
  margin-top: 6px;
}
.people.none {
  display: none;
}
.people li {
  padding: 5px 10px;
  min-height: 30px;
  cursor: pointer;
}
.people li[aria-selected='true'] {
  background: var(--tb-selection);
}
.acts {
  margin-top: 6px;
}
</style>
