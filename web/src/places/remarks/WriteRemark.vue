<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useNameable } from '../../queries/remarks'

/** What one writes into a remark; @ offers those who can see the thing. */
const props = defineProps<{
  item: string
  act: string
  hint: string
  busy: boolean
  wrong?: string
  begun?: string
  focus?: boolean
  escapes?: boolean
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
const offered = computed(() =>
  at.value === undefined ? [] : (people.value ?? []).filter((p) => p.name.toLowerCase().includes(sought.value.toLowerCase())).slice(0, 6),
)
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
async function take(name: string) {
  if (at.value === undefined) return
  const end = field.value?.selectionStart ?? text.value.length
  const start = at.value
  text.value = `${text.value.slice(0, start)}@${name} ${text.value.slice(end)}`
  at.value = undefined
  await nextTick()
  field.value?.focus()
  field.value?.setSelectionRange(start + name.length + 2, start + name.length + 2)
}
function key(e: KeyboardEvent) {
  if (offered.value.length) {
    const step = { ArrowDown: 1, ArrowUp: -1 }[e.key]
    if (step) marked.value = (marked.value + step + offered.value.length) % offered.value.length
    else if (e.key === 'Enter' || e.key === 'Tab') void take(offered.value[marked.value].name)
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
function say() {
  if (!text.value.trim() || props.busy) return
  // The button rests until it is said; one stays where one wrote.
  field.value?.focus({ preventScroll: true })
  emit(
    'say',
    text.value,
    named.value.map((p) => p.id),
  )
}
/** What was said is said; one can go on where one was. */
function clear() {
  text.value = ''
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
        @pointerdown.prevent="take(p.name)"
      >
        {{ p.name }}
        <span v-if="p.outside" class="small quiet">{{ t('remarks.guest') }}</span>
      </li>
    </ul>
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
