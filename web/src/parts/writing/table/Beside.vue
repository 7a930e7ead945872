<script setup lang="ts">
import { computed } from 'vue'
import { useVoice } from '../voice'
import type { Schemas } from '../../../api/client'
import type { Pen } from '../pens'
import type { Book } from './book'
import { lettersOf } from './formula'
import { headingOf } from './lens'
import type { Shown } from './shown'

/** What lies beside a table: what the chosen numbers say together, drawn, and what was changed since the last version. */
const props = defineProps<{
  book: Book
  n: number
  chosen: { r: number; c: number; shown: Shown }[]
  changed: Schemas['CellChange'][]
  penOf: (by: string) => Pick<Pen, 'letter' | 'name'>
  read: (text: string) => string
  number: (n: number) => string
}>()
const emit = defineEmits<{ show: [c: { sheet: number; row: number; column: number }] }>()
const voice = useVoice()
const { t } = voice
const numbers = computed(() => props.chosen.flatMap((c) => (c.shown.number === undefined ? [] : [{ ...c, number: c.shown.number }])))
const filled = computed(() => props.chosen.filter((c) => c.shown.text).length)
const words = computed(() => {
  const all = numbers.value.map((x) => x.number)
  if (all.length < 2) return t('writing.grid.filled', { n: voice.count(filled.value) }, filled.value)
  let [least, most, sum] = [all[0]!, all[0]!, 0]
  for (const x of all) {
    least = Math.min(least, x)
    most = Math.max(most, x)
    sum += x
  }
  return t('writing.grid.numbers', {
    n: voice.count(all.length),
    least: props.number(least),
    most: props.number(most),
    sum: props.number(Number(sum.toPrecision(12))),
    mean: props.number(Number((sum / all.length).toPrecision(4))),
  })
})

/** The numbers of one column, drawn from zero or from a little below the least. */
const [wide, high] = [280, 110]
const drawn = computed(() => {
  const all = numbers.value
  if (all.length < 3 || all.length > 400 || new Set(all.map((x) => x.c)).size > 1) return undefined
  const values = all.map((x) => x.number)
  const most = Math.max(...values, 0)
  const least = Math.min(...values, 0)
  const tall = most - least || 1
  const y = (n: number) => 8 + (high - 16) * (1 - (n - least) / tall)
  const step = wide / all.length
  return {
    column: headingOf(props.book, props.n, all[0]!.c, lettersOf(all[0]!.c)),
    zero: y(0),
    width: Math.max(1, Math.min(7, step * 0.5)),
    bars: all.map((x, i) => ({ x: (i + 0.5) * step, y: y(x.number), peak: x.number === most || (least < 0 && x.number === least) })),
    most: props.number(Math.max(...values)),
    least: props.number(Math.min(...values)),
  }
})
const whatOf = (c: Schemas['CellChange']) => {
  const sheet = props.book[c.sheet]
  const column = headingOf(props.book, c.sheet, c.column, lettersOf(c.column))
  const row = sheet?.rows[c.row]?.[0]?.t
  const first = sheet && sheet.head > 0 && c.column > 0 && row ? `${headingOf(props.book, c.sheet, 0, 'A')} ${props.read(row)}` : ''
  return first ? `${first}, ${column}` : `${lettersOf(c.column)}${c.row + 1}, ${column}`
}
</script>

<template>
  <aside class="beside-table" :aria-label="t('writing.grid.beside')">
    <p class="says" aria-live="polite">{{ words }}</p>
    <figure v-if="drawn" class="drawing">
      <svg :viewBox="`0 0 ${wide} ${high}`" role="img" :aria-label="t('writing.grid.drawn', { column: drawn.column })">
        <line class="axis" x1="0" :x2="wide" :y1="drawn.zero" :y2="drawn.zero" />
        <rect
          v-for="(b, i) in drawn.bars"
          :key="i"
          :class="{ peak: b.peak }"
          :x="b.x - drawn.width / 2"
          :width="drawn.width"
          :y="Math.min(b.y, drawn.zero)"
          :height="Math.max(1, Math.abs(drawn.zero - b.y))"
        />
      </svg>
      <figcaption class="tiny quiet">
        {{ t('writing.grid.drawnFrom', { column: drawn.column, least: drawn.least, most: drawn.most }) }}
      </figcaption>
    </figure>
    <h2>{{ t('writing.grid.changed') }}</h2>
    <p v-if="!changed.length" class="quiet small">{{ t('writing.grid.nothingChanged') }}</p>
    <ol v-else class="changes">
      <li v-for="(c, i) in changed.slice(0, 40)" :key="i">
        <button type="button" @click="emit('show', c)">
          <span class="small quiet when">{{ voice.when(c.at) }}</span>
          <span class="pen-letter" :title="penOf(c.by).name">{{ penOf(c.by).letter }}</span>
          <span class="visually-hidden">{{ penOf(c.by).name }}</span>
          <span class="what">{{ whatOf(c) }}</span>
          <span class="values">
            <del v-if="c.was">{{ read(c.was) }}</del>
            {{ c.text ? read(c.text) : t('writing.grid.nothing') }}
          </span>
        </button>
      </li>
    </ol>
  </aside>
</template>

<style scoped>
.beside-table {
  background: var(--tb-page);
  border-left: 1px solid var(--tb-rule);
  padding: 14px 20px;
  overflow: auto;
  min-height: 0;
}
.says {
  font-family: var(--tb-font-letter, 'Literata Variable', serif);
  font-size: var(--tb-read);
  margin: 0 0 12px;
}
h2 {
  font-size: var(--tb-lead);
  border-bottom: 1px solid var(--tb-ink);
  padding-bottom: 6px;
  margin: 16px 0 0;
}
.drawing {
  margin: 0;
}
.axis {
  stroke: var(--tb-edge);
}
rect {
  fill: var(--tb-edge);
}
rect.peak {
  fill: var(--tb-ink);
}
.changes {
  list-style: none;
  margin: 0;
  padding: 0;
}
.changes button {
  display: grid;
  grid-template-columns: auto 18px minmax(0, 1fr) auto;
  gap: 8px;
  align-items: baseline;
  width: 100%;
  min-height: 34px;
  text-align: left;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
}
.what,
.values {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.values {
  max-width: 120px;
  font-variant-numeric: tabular-nums;
}
.values del {
  color: var(--tb-quiet);
}
@media (max-width: 900px) {
  .beside-table {
    display: none;
  }
}
</style>
