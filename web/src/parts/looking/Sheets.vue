<script setup lang="ts">
import { useVirtualizer } from '@tanstack/vue-virtual'
import { computed, ref, watch } from 'vue'
import type { components } from '../../api/schema.gen'
import ReaderBar from './ReaderBar.vue'
import type { CellPlace, LookWord, MarkedCell } from './word'

/** A table: all sheets of a spreadsheet, the first row kept in view, only the rows in sight in the page. */
const props = defineProps<{
  sheets: components['schemas']['PreviewSheet'][]
  name: string
  word: LookWord
  marks?: MarkedCell[]
  /** What is looked for from the beginning. */
  start?: string
}>()
const emit = defineEmits<{ cell: [at: CellPlace] }>()
const at = ref(
  Math.max(
    0,
    props.sheets.findIndex((s) => !s.hidden && s.rows.length > 0),
  ),
)
const sheet = computed(() => props.sheets[at.value])
const head = computed(() => sheet.value?.rows[0] ?? [])
const body = computed(() => sheet.value?.rows.slice(1) ?? [])
const columns = computed(() => Math.max(0, ...(sheet.value?.rows.map((r) => r.length) ?? [])))
/** As wide as the longest of its cells, within reason; so that nothing jumps while rows come and go. */
const widths = computed(() =>
  Array.from({ length: columns.value }, (_, i) => {
    const longest = (sheet.value?.rows ?? []).reduce((most, r) => Math.max(most, r[i]?.length ?? 0), 2)
    return `${Math.min(46, longest) + 3}ch`
  }),
)
const numeric = (cell: string) => /^[-+(]?[^\p{L}\d]{0,3}\d[\d.,' \u00a0]*\)?\s?(%|\p{Sc}|[A-Z]{3})?$/u.test(cell)

const pane = ref<HTMLElement>()
const rowHeight = 29
const virtual = useVirtualizer(
  computed(() => ({
    count: body.value.length,
    getScrollElement: () => pane.value ?? null,
    estimateSize: () => rowHeight,
    overscan: 20,
    scrollPaddingStart: rowHeight * 2,
  })),
)
const rows = computed(() => virtual.value.getVirtualItems())
const before = computed(() => rows.value[0]?.start ?? 0)
const after = computed(() => virtual.value.getTotalSize() - (rows.value.at(-1)?.end ?? 0))

const sought = ref('')
const places = computed(() => {
  const want = sought.value.trim().toLowerCase()
  if (!want) return []
  return (sheet.value?.rows ?? []).flatMap((r, row) => r.flatMap((c, column) => (c.toLowerCase().includes(want) ? [{ row, column }] : [])))
})
watch(
  () => props.start,
  (s) => s && (sought.value = s),
  { immediate: true },
)
const hit = ref(0)
const found = computed(() => new Set(places.value.map((p) => `${p.row} ${p.column}`)))
const here = computed(() => places.value[hit.value])
function show() {
  if (here.value) virtual.value.scrollToIndex(Math.max(0, here.value.row - 1), { align: 'auto' })
}
watch([sought, at], () => {
  hit.value = 0
  show()
})
watch(at, () => pane.value?.scrollTo(0, 0))
/** A cell is pointed at by a click, and by being found. */
function point(row: number, column: number) {
  emit('cell', { sheet: sheet.value.name, row: row + 1, column: column + 1, words: sheet.value.rows[row]?.[column] ?? '' })
}
watch(here, (h) => h && point(h.row, h.column))
const marked = (row: number, column: number) =>
  props.marks?.find((m) => m.sheet === sheet.value?.name && m.row === row + 1 && m.column === column + 1)
watch(
  () => props.marks?.find((m) => m.on),
  (m) => {
    const on = m ? props.sheets.findIndex((s) => s.name === m.sheet) : -1
    if (!m || on < 0) return
    at.value = on
    virtual.value.scrollToIndex(Math.max(0, m.row - 2), { align: 'auto' })
  },
)
function step(by: 1 | -1) {
  const of = places.value.length
  if (of) hit.value = (hit.value + by + of) % of
  show()
}
const mark = (row: number, column: number) => ({
  // A heading stands as the numbers below it do.
  num: numeric(sheet.value?.rows[row || 1]?.[column] ?? ''),
  found: found.value.has(`${row} ${column}`),
  here: here.value?.row === row && here.value.column === column,
  talked: !!marked(row, column),
  on: marked(row, column)?.on,
})
</script>

<template>
  <div class="sheets">
    <ReaderBar v-model:sought="sought" :word="word" findable :hits="{ at: hit + 1, of: places.length }" @hit="step">
      <div v-if="sheets.length > 1" class="names" role="tablist" :aria-label="word('sheets')">
        <button
          v-for="(s, i) in sheets"
          :key="s.name"
          type="button"
          role="tab"
          :aria-selected="i === at"
          :class="{ quiet: s.hidden }"
          @click="at = i"
        >
          {{ s.hidden ? word('hidden', { name: s.name }) : s.name }}
        </button>
      </div>
    </ReaderBar>
    <div ref="pane" class="cells" tabindex="0" role="region" :aria-label="name">
      <p v-if="!sheet?.rows.length" class="quiet none">{{ word('empty') }}</p>
      <table v-else :aria-rowcount="sheet.rows.length">
        <colgroup>
          <col style="width: 52px" />
          <col v-for="(w, i) in widths" :key="i" :style="{ width: w }" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col" class="n">
              <span class="visually-hidden">{{ word('row') }}</span>
              1
            </th>
            <th
              v-for="i in columns"
              :key="i"
              scope="col"
              :class="mark(0, i - 1)"
              :title="head[i - 1]"
              :data-mark="marked(0, i - 1)?.number"
              @click="point(0, i - 1)"
            >
              {{ head[i - 1] }}
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-if="before" aria-hidden="true"><td :colspan="columns + 1" class="space" :style="{ height: `${before}px` }"></td></tr>
          <tr v-for="v in rows" :key="v.index" :aria-rowindex="v.index + 2">
            <th scope="row" class="n">{{ v.index + 2 }}</th>
            <td
              v-for="i in columns"
              :key="i"
              :class="mark(v.index + 1, i - 1)"
              :data-mark="marked(v.index + 1, i - 1)?.number"
              @click="point(v.index + 1, i - 1)"
              :title="(body[v.index][i - 1]?.length ?? 0) > 40 ? body[v.index][i - 1] : undefined"
            >
              {{ body[v.index][i - 1] }}
            </td>
          </tr>
          <tr v-if="after > 0" aria-hidden="true"><td :colspan="columns + 1" class="space" :style="{ height: `${after}px` }"></td></tr>
        </tbody>
      </table>
    </div>
  </div>
</template>

<style scoped>
.sheets {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.cells {
  width: 100%;
  border-width: 0;
}
table {
  table-layout: fixed;
  width: max-content;
}
td,
th {
  height: 29px;
  overflow: hidden;
  text-overflow: ellipsis;
}
.space {
  padding: 0;
  border: 0;
  height: 0;
}
th.n {
  position: sticky;
  left: 0;
  text-align: right;
  color: var(--tb-quiet);
  font-weight: 400;
  padding: 4px 8px;
  border-right: 1px solid var(--tb-line);
}
thead th.n {
  z-index: 1;
}
tbody th.n {
  top: auto;
  border-bottom: 1px solid var(--tb-line);
}
.num {
  text-align: right;
}
.found {
  background: var(--tb-selection);
}
.here {
  outline: 2px solid var(--tb-action);
  outline-offset: -2px;
}
.talked {
  box-shadow: inset 0 -2px 0 var(--tb-action);
}
.talked.on {
  outline: 2px solid var(--tb-action);
  outline-offset: -2px;
}
.talked::after {
  content: attr(data-mark);
  margin-left: var(--tb-s2);
  padding: 0 5px;
  border: 1px solid var(--tb-ink);
  border-radius: 9px 9px 9px 2px;
  background: var(--tb-sheet);
  color: var(--tb-ink);
  font-size: var(--tb-small);
  font-weight: 600;
}
.none {
  padding: 20px;
}
.names {
  display: flex;
  gap: 2px;
  overflow-x: auto;
  min-width: 0;
}
.names button {
  white-space: nowrap;
  padding: 3px 10px;
  border-bottom: 2px solid transparent;
}
.names [aria-selected='true'] {
  font-weight: 600;
  border-bottom-color: var(--tb-action);
}
</style>
