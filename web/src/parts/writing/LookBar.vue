<script setup lang="ts">
import { NodeSelection, type EditorState } from 'prosemirror-state'
import { isInTable, addColumnAfter, addRowAfter, deleteColumn, deleteRow, deleteTable } from 'prosemirror-tables'
import type { EditorView } from 'prosemirror-view'
import { computed, nextTick, ref, useTemplateRef } from 'vue'
import Menu from '../Menu.vue'
import { addField, kindAt, kinds, looks, setKind, table } from './editor'
import { leads, schema } from './schema'
import { useVoice } from './voice'

/** How the chosen words look, what the paragraph is, and what can be put in: below the text, in words. */
const props = defineProps<{
  view: EditorView
  state: EditorState
  /** Only what a word-processing document has as well. */
  plain?: boolean
  /** Pictures can be put in. */
  pictures?: boolean
}>()
const emit = defineEmits<{ picture: [file: File] }>()
const { t } = useVoice()
const kind = computed(() => kindAt(props.state))
/** What is asked for in place of the bar: where a link leads, or what a note says. */
const asking = ref<'link' | 'note'>()
const typed = ref('')
const linkWrong = ref(false)
const field = useTemplateRef<HTMLInputElement>('field')

const has = (mark: string) => {
  const { from, to, empty, $from } = props.state.selection
  const type = schema.marks[mark]!
  return empty ? !!type.isInSet(props.state.storedMarks ?? $from.marks()) : props.state.doc.rangeHasMark(from, to, type)
}
function run(command: (state: EditorState, dispatch?: EditorView['dispatch'], view?: EditorView) => boolean) {
  command(props.view.state, props.view.dispatch, props.view)
  props.view.focus()
}
async function link() {
  if (has('link')) {
    const { from, to } = props.state.selection
    props.view.dispatch(props.view.state.tr.removeMark(from, to, schema.marks.link!))
    props.view.focus()
    return
  }
  await ask('link')
}
async function ask(what: 'link' | 'note') {
  asking.value = what
  typed.value = ''
  linkWrong.value = false
  await nextTick()
  field.value?.focus()
}
function close() {
  asking.value = undefined
  props.view.focus()
}
function put() {
  if (asking.value === 'link') setLink()
  else {
    const text = typed.value.trim()
    if (text) props.view.dispatch(props.view.state.tr.replaceSelectionWith(schema.nodes.note!.create({ text })))
    close()
  }
}
function setLink() {
  let to = typed.value.trim()
  if (/^[^\s@:/]+@[^\s@]+$/.test(to)) to = `mailto:${to}`
  else if (to && !/^[a-z][a-z0-9+.-]*:|^#/i.test(to)) to = `https://${to}`
  if (!leads(to)) {
    linkWrong.value = true
    return
  }
  const { from, to: end, empty } = props.view.state.selection
  const mark = schema.marks.link!.create({ href: to })
  const tr = props.view.state.tr
  if (empty) tr.insert(from, schema.text(to, [mark]))
  else tr.addMark(from, end, mark)
  props.view.dispatch(tr)
  close()
}
const kindEntries = computed(() =>
  Object.keys(kinds)
    .filter((k) => !props.plain || !['tasks', 'code'].includes(k))
    .map((k) => ({ label: t(`writing.kind.${k}`), do: () => run(setKind(k)) })),
)
const chooser = useTemplateRef<HTMLInputElement>('chooser')
function bring() {
  const file = chooser.value?.files?.[0]
  if (file) emit('picture', file)
  if (chooser.value) chooser.value.value = ''
}
const inTable = computed(() => isInTable(props.state))
const tableEntries = computed(() => [
  { label: t('writing.rowAfter'), do: () => run(addRowAfter) },
  { label: t('writing.columnAfter'), do: () => run(addColumnAfter) },
  { label: t('writing.rowAway'), do: () => run(deleteRow) },
  { label: t('writing.columnAway'), do: () => run(deleteColumn) },
  { label: t('writing.tableAway'), do: () => run(deleteTable) },
])
/** The field that is chosen, which is said in place of the bar. */
const chosenField = computed(() => {
  const { selection: s } = props.state
  return s instanceof NodeSelection && s.node.type === schema.nodes.field ? { at: s.from, node: s.node } : undefined
})
const words = computed(() => props.state.doc.textBetween(0, props.state.doc.content.size, ' ').split(/\s+/).filter(Boolean).length)
</script>

<template>
  <div class="look-bar" role="toolbar" :aria-label="t('writing.bar')">
    <form v-if="asking" class="acts" @submit.prevent="put" @keydown.esc.stop="close">
      <input
        ref="field"
        v-model="typed"
        class="form-control form-control-sm"
        maxlength="2000"
        :aria-label="t(`writing.${asking}Asked`)"
        :placeholder="t(`writing.${asking}Asked`)"
        :aria-invalid="linkWrong"
      />
      <button type="submit" class="btn btn-plain btn-small">{{ t('writing.put') }}</button>
      <button type="button" class="btn btn-text btn-small" @click="close">{{ t('common.discard') }}</button>
      <span v-if="linkWrong" class="t-caution small" role="alert">{{ t('writing.linkWrong') }}</span>
    </form>
    <slot v-else-if="chosenField && $slots.field" name="field" v-bind="chosenField"></slot>
    <template v-else>
      <span class="quiet small only-wide">{{ t('writing.chosenWords') }}</span>
      <button
        v-for="(command, look) in looks"
        :key="look"
        type="button"
        :class="`look look-${look}`"
        :aria-pressed="has(String(look))"
        @mousedown.prevent
        @click="run(command)"
      >
        {{ t(`writing.look.${look}`) }}
      </button>
      <button type="button" class="look look-link" :aria-pressed="has('link')" @mousedown.prevent @click="link">
        {{ t('writing.look.link') }}
      </button>
      <span class="rule" aria-hidden="true"></span>
      <span class="quiet small only-wide">{{ t('writing.thisIs') }}</span>
      <Menu class="up" :label="t('writing.thisIs')" :entries="kindEntries" button="look kind-now">{{ t(`writing.kind.${kind}`) }}</Menu>
      <span class="rule only-wide" aria-hidden="true"></span>
      <Menu v-if="inTable" class="up" :label="t('writing.table')" :entries="tableEntries" button="look">{{ t('writing.table') }}</Menu>
      <button v-else type="button" class="look only-wide" @mousedown.prevent @click="run(table(3, 3))">{{ t('writing.addTable') }}</button>
      <button v-if="pictures" type="button" class="look" @mousedown.prevent @click="chooser?.click()">{{ t('writing.addPicture') }}</button>
      <input
        v-if="pictures"
        ref="chooser"
        type="file"
        accept="image/png,image/jpeg,image/gif,image/webp"
        hidden
        data-picture
        @change="bring"
      />
      <button v-if="!plain" type="button" class="look" data-field-verb @mousedown.prevent @click="run(addField)">
        {{ t('fillings.field') }}
      </button>
      <button v-if="!plain" type="button" class="look only-wide" @mousedown.prevent @click="ask('note')">{{ t('writing.addNote') }}</button>
      <span class="quiet small only-wide count">{{ t('writing.words', { n: words }, words) }}</span>
    </template>
  </div>
</template>

<style scoped>
.look-bar {
  grid-row: 8;
  display: flex;
  align-items: center;
  gap: 12px;
  min-height: 44px;
  padding: 4px 24px;
  background: var(--tb-sheet);
  border-top: 1px solid var(--tb-rule);
  font-size: var(--tb-text);
}
.look-bar :deep(.look) {
  min-height: 28px;
  padding: 0 6px;
  white-space: nowrap;
  border-radius: 3px;
}
.look-bar :deep(.look[aria-pressed='true']) {
  background: var(--tb-selection);
  box-shadow: inset 0 -2px 0 var(--tb-action);
}
.look-strong {
  font-weight: 700;
}
.look-em {
  font-style: italic;
}
.look-struck {
  text-decoration: line-through;
}
.look-code {
  font-family: var(--bs-font-monospace);
}
.look-link {
  text-decoration: underline;
}
.look-bar :deep(.kind-now) {
  font-weight: 600;
  box-shadow: inset 0 -1px 0 var(--tb-action);
}
.up :deep(.below) {
  top: auto;
  bottom: calc(100% + 4px);
}
.rule {
  width: 1px;
  height: 18px;
  background: var(--tb-line);
}
.count {
  margin-left: auto;
}
@media (max-width: 900px) {
  .look-bar {
    gap: 6px;
    padding: 4px 12px;
    overflow-x: auto;
  }
}
@media (max-width: 900px) {
  .only-wide {
    display: none;
  }
}
</style>
