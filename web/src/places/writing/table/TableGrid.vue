<script setup lang="ts">
import { useElementSize, useScroll } from '@vueuse/core'
import { computed, nextTick, ref, useId, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Pen } from '../pens'
import { cellAt, mostRows, type Sheet } from './book'
import { lettersOf } from './formula'
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
const { t } = useI18n()
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
const headRows = computed(() => Array.from({ length: props.sheet.head }, (_, v) => v))

const box = computed(() => {
  const { anchor: a, head: h } = chosen.value
  return { top: Math.min(a.v, h.v), bottom: Math.max(a.v, h.v), left: Math.min(a.c, h.c), right: Math.max(a.c, h.c) }
})
const inBox = (v: number, c: number) => v >= box.value.top && v <= box.value.bottom && c >= box.value.left && c <= box.value.right
const isHere = (v: number, c: number) => chosen.value.head.v === v && chosen.value.head.c === c
const cellId = (v: number, c: number) => `${id}-${v}-${c}`

/** Whoever else is in a cell. */
const theirs = computed(() => {
  const all = new Map<string, Pen>()
  for (const { pen, at } of props.others) if (at.sheet === props.n) all.set(`${at.head.r}/${at.head.c}`, pen)
  return all
})
const whoIn = (r: number, c: number) => theirs.value.get(`${r}/${c}`)

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
        <div v-for="v in headRows" :key="v" class="line heads" role="row" :aria-rowindex="v + 1" :style="{ height: `${high}px` }">
          <span class="no aside" role="rowheader" @click="chooseRow(v, $event.shiftKey)">{{ v + 1 }}</span>
          <span
            v-for="c in columnsSeen"
            :id="cellId(v, c)"
            :key="c"
            class="place head"
            role="gridcell"
            :aria-colindex="c + 1"
            :aria-selected="inBox(v, c)"
            :class="{ within: inBox(v, c), here: isHere(v, c), right: shown(v, c).right }"
            :style="{ left: `${lefts[c]}px`, width: `${widths[c]}px` }"
            :title="shown(v, c).text"
            @pointerdown="press($event, v, c)"
            @pointerenter="drag(v, c)"
            @dblclick="edit()"
          >
            {{ shown(v, c).text }}
          </span>
        </div>
      </div>
      <div
        v-for="v in rowsSeen"
        :key="v"
        class="line"
        role="row"
        :aria-rowindex="rowAt(v) + 1"
        :style="{ top: `${lettersHigh + v * high}px`, height: `${high}px`, width: `${whole}px` }"
      >
        <span class="no aside" role="rowheader" :class="{ within: v >= box.top && v <= box.bottom }" @click="chooseRow(v, $event.shiftKey)">
          {{ rowAt(v) + 1 }}
        </span>
        <span
          v-for="c in columnsSeen"
          :id="cellId(v, c)"
          :key="c"
          class="place"
          role="gridcell"
          :aria-colindex="c + 1"
          :aria-selected="inBox(v, c)"
          :data-at="`${lettersOf(c)}${rowAt(v) + 1}`"
          :class="[
            {
              within: inBox(v, c),
              here: isHere(v, c),
              right: shown(rowAt(v), c).right,
              worked: shown(rowAt(v), c).worked,
              amiss: shown(rowAt(v), c).error,
              doubt: !!cellAt(sheet, rowAt(v), c).d,
            },
            whoIn(rowAt(v), c) && `their-cell cell-${whoIn(rowAt(v), c)!.line}`,
          ]"
          :style="{ left: `${lefts[c]}px`, width: `${widths[c]}px` }"
          :title="shown(rowAt(v), c).text"
          @pointerdown="press($event, v, c)"
          @pointerenter="drag(v, c)"
          @dblclick="edit()"
        >
          <em v-if="whoIn(rowAt(v), c)" class="their-name">{{ whoIn(rowAt(v), c)!.short }}</em>
          <template v-if="cellAt(sheet, rowAt(v), c).d">
            <span v-for="(o, i) in cellAt(sheet, rowAt(v), c).d!.others" :key="i" class="said quiet">
              <b class="pen-letter">{{ penOf(o.by).letter }}</b>
              {{ read(o.text) }}
            </span>
            <b class="pen-letter">{{ penOf(cellAt(sheet, rowAt(v), c).d!.by).letter }}</b>
          </template>
          {{ shown(rowAt(v), c).text }}
          <button
            v-if="signs.get(`${rowAt(v)}/${c}`)"
            type="button"
            tabindex="-1"
            class="passage-sign"
            :aria-label="t('writing.grid.said', { n: numbers.get(signs.get(`${rowAt(v)}/${c}`)!) ?? 0 })"
            @click="emit('thread', signs.get(`${rowAt(v)}/${c}`)!)"
          >
            {{ numbers.get(signs.get(`${rowAt(v)}/${c}`)!) }}
          </button>
        </span>
      </div>
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
.corner,
.aside {
  position: sticky;
  left: 0;
  display: inline-block;
  width: 46px;
  height: 100%;
  background: var(--tb-page);
  border-right: 1px solid var(--tb-line);
  z-index: 2;
}
.aside {
  text-align: right;
  padding: 0 10px 0 0;
  line-height: inherit;
  color: var(--tb-quiet);
  font-size: var(--tb-tiny);
  display: inline-flex;
  align-items: center;
  justify-content: flex-end;
  cursor: default;
}
.aside.within,
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
.line {
  position: absolute;
  left: 0;
  border-bottom: 1px solid var(--tb-line);
}
.heads {
  position: relative;
}
.place {
  position: absolute;
  top: 0;
  height: 100%;
  padding: 0 8px;
  display: flex;
  align-items: center;
  gap: 6px;
  border-right: 1px solid var(--tb-line);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  cursor: cell;
  user-select: none;
}
.place.head {
  font-weight: 560;
}
.place.right {
  justify-content: flex-end;
}
.place.worked {
  background: var(--tb-page);
}
.place.amiss {
  color: var(--tb-caution-text);
}
.place.within {
  background: var(--tb-selection);
}
.place.here {
  box-shadow: inset 0 0 0 2px var(--tb-edge);
}
.grid-room:focus-within .place.here {
  box-shadow: inset 0 0 0 2px var(--tb-action);
}
.place.doubt {
  font-weight: 650;
  box-shadow: inset 0 -3px 0 0 var(--tb-caution);
}
.said {
  display: inline-flex;
  gap: 4px;
  font-weight: 400;
}
.their-cell {
  outline: 2px solid var(--tb-ink);
  outline-offset: -2px;
}
.cell-dash,
.cell-longdash {
  outline-style: dashed;
}
.cell-dot {
  outline-style: dotted;
}
.cell-double {
  outline: 4px double var(--tb-ink);
  outline-offset: -4px;
}
.cell-thick {
  outline-width: 3px;
}
.their-name {
  font: 560 var(--tb-tiny) / 1 var(--bs-font-sans-serif);
  margin-right: auto;
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
