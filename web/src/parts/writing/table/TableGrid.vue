<script setup lang="ts">
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, nextTick, ref, useId, useTemplateRef, watch } from 'vue'
import { useVoice } from '../voice'
import type { Pen } from '../pens'
import { cellAt, mostRows, type Sheet } from './book'
import { lettersOf } from './formula'
import GridLine, { type GridCell } from './GridLine.vue'
import { begins, gridKey, type KeyActs } from './keys'
import type { Lens } from './lens'
import type { Shown } from './shown'
import type { Chosen } from './table'

/** The cells of a sheet: only those in sight are there. Rows stand in the order they are looked at; headings stay in sight. */
const props = defineProps<{
  sheet: Sheet
  n: number
  rows: number[]
  shown: (r: number, c: number) => Shown
  edited: (r: number, c: number) => string
  read: (text: string) => string
  writes: boolean
  lens: Lens
  others: { pen: Pen; at: Chosen }[]
  penOf: (by: string) => { letter: string; name: string }
  /** Of which cells something is said, by row and column, and the numbers of those threads. */
  signs: Map<string, string>
  numbers: Map<string, number>
  label: string
  /** Others write as I look: cells are read anew. */
  tick: number
}>()
const emit = defineEmits<{
  write: [r: number, c: number, text: string]
  clear: []
  undo: []
  redo: []
  fill: []
  copy: [e: ClipboardEvent, cut: boolean]
  paste: [e: ClipboardEvent]
  by: [c: number]
  thread: [id: string]
}>()
/** Which cells are chosen, by where they are seen: the first rows are headings. */
const chosen = defineModel<{ anchor: { v: number; c: number }; head: { v: number; c: number } }>('chosen', { required: true })
/** What is being typed into the cell; undefined while nothing is. */
const typing = defineModel<string | undefined>('typing', { required: true })
const { t } = useVoice()
const id = useId()
const room = useTemplateRef<HTMLElement>('room')
const field = useTemplateRef<HTMLInputElement>('field')
const { x, y } = useScroll(room)
const { width, height } = useElementSize(room)
const high = matchMedia('(pointer: coarse)').matches ? 36 : 28
const aside = 46
const lettersHigh = 26

const seen = computed(() => props.sheet.head + props.rows.length)
const rowAt = (v: number) => (v < props.sheet.head ? v : (props.rows[v - props.sheet.head] ?? props.sheet.rows.length))
const widths = computed(() => {
  void props.tick
  return Array.from({ length: props.sheet.columns }, (_, c) => {
    let most = 3
    for (let r = 0; r < Math.min(props.sheet.rows.length, 120); r++) most = Math.max(most, props.shown(r, c).text.length)
    return Math.min(260, Math.max(60, most * 8 + 22))
  })
})
const lefts = computed(() => {
  let at = aside
  return widths.value.map((w) => (at += w) - w)
})
const whole = computed(() => (lefts.value.at(-1) ?? aside) + (widths.value.at(-1) ?? 0))
const top = computed(() => lettersHigh + props.sheet.head * high)
const rowsSeen = computed(() => {
  const from = Math.max(0, Math.floor(y.value / high) - 4)
  const to = Math.min(props.rows.length, Math.ceil((y.value + height.value) / high) + 4)
  return Array.from({ length: Math.max(0, to - from) }, (_, i) => from + i + props.sheet.head)
})
const columnsSeen = computed(() => {
  const all = []
  for (let c = 0; c < widths.value.length; c++)
    if (lefts.value[c]! + widths.value[c]! >= x.value && lefts.value[c]! <= x.value + width.value + 100) all.push(c)
  return all
})
const box = computed(() => {
  const { anchor: a, head: h } = chosen.value
  return { top: Math.min(a.v, h.v), bottom: Math.max(a.v, h.v), left: Math.min(a.c, h.c), right: Math.max(a.c, h.c) }
})
const cellId = (v: number, c: number) => `${id}-${v}-${c}`

/** Whoever else is in a cell. */
const theirs = computed(() => {
  const all = new Map<string, Pen>()
  for (const { pen, at } of props.others) if (at.sheet === props.n) all.set(`${at.head.r}/${at.head.c}`, pen)
  return all
})
/** What is read in the cells that are in sight, each looked at once. */
function seenLine(v: number) {
  const row = rowAt(v)
  const { top, bottom, left, right } = box.value
  const within = v >= top && v <= bottom
  const cells = columnsSeen.value.map((c): GridCell => {
    const thread = props.signs.get(`${row}/${c}`)
    return {
      c,
      id: cellId(v, c),
      left: lefts.value[c]!,
      width: widths.value[c]!,
      shown: props.shown(row, c),
      within: within && c >= left && c <= right,
      here: chosen.value.head.v === v && chosen.value.head.c === c,
      doubt: cellAt(props.sheet, row, c).d,
      pen: theirs.value.get(`${row}/${c}`),
      thread,
      number: thread ? props.numbers.get(thread) : undefined,
    }
  })
  return { v, row, within, cells }
}
const headLines = computed(() => Array.from({ length: props.sheet.head }, (_, v) => seenLine(v)))
const lines = computed(() => rowsSeen.value.map(seenLine))
const lineOf = ({ row, within, cells }: ReturnType<typeof seenLine>) => ({ row, within, cells, read: props.read, letterOf })
const letterOf = (by: string) => props.penOf(by).letter
const lineActs = (v: number) => ({
  row: (extend: boolean) => chooseRow(v, extend),
  press: (e: PointerEvent, c: number) => press(e, v, c),
  drag: (c: number) => drag(v, c),
  edit: () => edit(),
  thread: (id: string) => emit('thread', id),
})

function go(v: number, c: number, extend = false) {
  const head = { v: Math.max(0, Math.min(v, seen.value - 1)), c: Math.max(0, Math.min(c, props.sheet.columns - 1)) }
  chosen.value = extend ? { ...chosen.value, head } : { anchor: head, head }
  reveal()
}
function reveal(v = chosen.value.head.v, c = chosen.value.head.c) {
  const el = room.value
  if (!el) return
  const at = (v - props.sheet.head) * high
  if (v >= props.sheet.head) {
    if (at < el.scrollTop) el.scrollTop = at
    else if (at + high > el.scrollTop + el.clientHeight - top.value) el.scrollTop = at + high - el.clientHeight + top.value
  }
  const left = lefts.value[c] ?? 0
  if (left < el.scrollLeft + aside) el.scrollLeft = left - aside
  else if (left + widths.value[c]! > el.scrollLeft + el.clientWidth) el.scrollLeft = left + widths.value[c]! - el.clientWidth
}
watch(
  () => chosen.value.head,
  () => reveal(),
  { flush: 'post' },
)

/** A cell is edited: with what stands there, or anew with what is typed next. */
function edit(anew = false) {
  if (!props.writes || !field.value) return
  const { v, c } = chosen.value.head
  typing.value = anew ? '' : props.edited(rowAt(v), c)
  field.value.value = typing.value
  // What is typed goes into the field at once, also where it takes several keys to a letter.
  field.value.focus({ preventScroll: true })
  field.value.setSelectionRange(typing.value.length, typing.value.length)
  reveal()
}
/** What was typed is written, and the cell beside or below is next. */
function finish(rows: number, columns: number) {
  const { v, c } = chosen.value.head
  if (typing.value !== undefined) emit('write', rowAt(v), c, typing.value)
  typing.value = undefined
  focus()
  if (v + rows >= seen.value && rows > 0 && props.sheet.rows.length < mostRows) emit('write', props.sheet.rows.length, 0, '')
  void nextTick(() => go(v + rows, c + columns))
}
function discard() {
  typing.value = undefined
  focus()
}
const focus = () => room.value?.focus({ preventScroll: true })
defineExpose({ focus, go, reveal, finish, discard })

const page = computed(() => Math.max(1, Math.floor((height.value - top.value) / high) - 1))
const keyActs: KeyActs = {
  go,
  edit,
  all: () => (chosen.value = { anchor: { v: 0, c: 0 }, head: { v: seen.value - 1, c: props.sheet.columns - 1 } }),
  clear: () => emit('clear'),
  undo: () => emit('undo'),
  redo: () => emit('redo'),
  fill: () => emit('fill'),
}
function byKey(e: KeyboardEvent) {
  if (typing.value !== undefined) return
  const { head, columns } = props.sheet
  const extent = { ...chosen.value.head, rows: seen.value, columns, head, page: page.value }
  if (gridKey(e, extent, keyActs)) e.preventDefault()
  else if (begins(e)) edit(true)
}
function inField(e: KeyboardEvent) {
  if (e.isComposing) return
  if (e.key === 'Enter' && !e.altKey) {
    e.preventDefault()
    finish(e.shiftKey ? -1 : 1, 0)
  } else if (e.key === 'Tab') {
    e.preventDefault()
    finish(0, e.shiftKey ? -1 : 1)
  } else if (e.key === 'Escape') {
    e.preventDefault()
    discard()
  }
  e.stopPropagation()
}

const dragging = ref(false)
function press(e: PointerEvent, v: number, c: number) {
  if (e.button) return
  if (typing.value !== undefined) finish(0, 0)
  dragging.value = e.pointerType === 'mouse'
  const head = { v, c }
  chosen.value = e.shiftKey ? { ...chosen.value, head } : { anchor: head, head }
  void nextTick(() => {
    chosen.value = e.shiftKey ? { ...chosen.value, head } : { anchor: head, head }
    focus()
  })
}
const drag = (v: number, c: number) => dragging.value && (chosen.value = { ...chosen.value, head: { v, c } })
function chooseRow(v: number, extend: boolean) {
  const head = { v, c: props.sheet.columns - 1 }
  chosen.value = extend ? { ...chosen.value, head } : { anchor: { v, c: 0 }, head }
  focus()
}
function chooseColumn(c: number, extend: boolean) {
  const head = { v: seen.value - 1, c }
  chosen.value = extend ? { ...chosen.value, head } : { anchor: { v: 0, c }, head }
  focus()
}
const sorted = (c: number) => (props.lens.by !== c ? undefined : props.lens.down ? 'descending' : 'ascending')
const fieldAt = computed(() => {
  const { v, c } = chosen.value.head
  const under = v >= props.sheet.head
  return {
    left: `${lefts.value[c] ?? 0}px`,
    top: `${lettersHigh + v * high + (under ? 0 : y.value)}px`,
    minWidth: `${widths.value[c] ?? 60}px`,
    height: `${high}px`,
  }
})
</script>

<template>
  <div
    ref="room"
    class="grid-room"
    role="grid"
    tabindex="0"
    :aria-label="label"
    :aria-rowcount="sheet.rows.length"
    :aria-colcount="sheet.columns"
    :aria-activedescendant="typing === undefined ? cellId(chosen.head.v, chosen.head.c) : undefined"
    :aria-readonly="!writes"
    aria-multiselectable="true"
    data-grid
    @keydown="byKey"
    @copy="typing === undefined && emit('copy', $event, false)"
    @cut="typing === undefined && emit('copy', $event, true)"
    @paste="typing === undefined && emit('paste', $event)"
    @pointerup="dragging = false"
    @pointerleave="dragging = false"
  >
    <div class="extent" :style="{ width: `${whole}px`, height: `${top + rows.length * high}px` }">
      <div class="pinned" :style="{ width: `${whole}px` }">
        <div class="letters" role="row" :style="{ height: `${lettersHigh}px` }">
          <span class="corner" role="columnheader">
            <span class="visually-hidden">{{ t('writing.grid.rows') }}</span>
          </span>
          <span
            v-for="c in columnsSeen"
            :key="c"
            class="letter"
            role="columnheader"
            :aria-colindex="c + 1"
            :aria-sort="sorted(c)"
            :class="{ within: c >= box.left && c <= box.right }"
            :style="{ left: `${lefts[c]}px`, width: `${widths[c]}px` }"
          >
            <button type="button" tabindex="-1" @click="chooseColumn(c, $event.shiftKey)">{{ lettersOf(c) }}</button>
            <button
              type="button"
              tabindex="-1"
              class="by"
              :title="t('writing.grid.order')"
              :aria-label="t('writing.grid.orderBy', { column: lettersOf(c) })"
              @click="emit('by', c)"
            >
              {{ lens.by !== c ? '↕' : lens.down ? '↓' : '↑' }}
            </button>
          </span>
        </div>
        <GridLine
          v-for="l in headLines"
          :key="l.v"
          class="heads"
          head
          v-bind="lineOf(l)"
          :style="{ height: `${high}px` }"
          v-on="lineActs(l.v)"
        />
      </div>
      <GridLine
        v-for="l in lines"
        :key="l.v"
        v-bind="lineOf(l)"
        :style="{ top: `${lettersHigh + l.v * high}px`, height: `${high}px`, width: `${whole}px` }"
        v-on="lineActs(l.v)"
      />
      <input
        ref="field"
        v-model="typing"
        class="cell-field"
        :class="{ idle: typing === undefined }"
        :tabindex="typing === undefined ? -1 : 0"
        :aria-hidden="typing === undefined"
        :style="fieldAt"
        :aria-label="t('writing.grid.cell', { cell: lettersOf(chosen.head.c) + (rowAt(chosen.head.v) + 1) })"
        data-cell-field
        @keydown="inField"
      />
    </div>
  </div>
</template>

<style scoped>
.grid-room {
  overflow: auto;
  position: relative;
  background: var(--tb-sheet);
  min-height: 0;
  min-width: 0;
  outline: none;
  font-size: var(--tb-text);
  font-variant-numeric: tabular-nums;
}
.extent {
  position: relative;
}
.pinned {
  position: sticky;
  top: 0;
  z-index: 3;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-edge);
}
.letters {
  position: relative;
  background: var(--tb-page);
  border-bottom: 1px solid var(--tb-line);
}
.corner {
  position: sticky;
  left: 0;
  display: inline-block;
  width: 46px;
  height: 100%;
  background: var(--tb-page);
  border-right: 1px solid var(--tb-line);
  z-index: 2;
}
.letter.within {
  color: var(--tb-ink);
  font-weight: 650;
}
.letter {
  position: absolute;
  top: 0;
  height: 100%;
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 0 4px 0 8px;
  color: var(--tb-quiet);
  font-size: var(--tb-tiny);
}
.letter button {
  min-width: 24px;
  height: 24px;
  text-align: left;
}
.letter .by {
  text-align: center;
  opacity: 0.55;
}
.letter[aria-sort] .by,
.letter .by:hover {
  opacity: 1;
}
.line.heads {
  position: relative;
}
.grid-room:focus-within :deep(.place.here) {
  box-shadow: inset 0 0 0 2px var(--tb-action);
}
.cell-field {
  position: absolute;
  z-index: 4;
  padding: 0 7px;
  border: 2px solid var(--tb-action);
  background: var(--tb-sheet);
  color: var(--tb-ink);
  font: inherit;
  border-radius: 0;
}
.cell-field.idle {
  opacity: 0;
  pointer-events: none;
}
</style>
