import { watchDebounced } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { pensBeside } from '../pens'
import type { Voice } from '../voice'
import { doubtsIn, useActs } from './acts'
import { cellAt } from './book'
import { lettersOf } from './formula'
import { headingOf, rowsThrough, type Lens } from './lens'
import { reader, type Shown } from './shown'
import type { Table } from './table'
import { shownNumber } from './values'

/** What the grid of a table does when it is asked to. */
export interface Grid {
  go: (v: number, c: number) => void
  reveal: (v: number, c: number) => void
  focus: () => void
  finish: (down: number, right: number) => void
  discard: () => void
}

/**
 * What one does around a table, wherever one came from: which sheet and cells one looks at, and how; where the others are;
 * what is in doubt; and what the chosen cells say together.
 */
export function useTableRoom(table: Table, voice: Voice, nameOf: (by: string) => string, refuses: (why: string) => void) {
  const { t } = voice
  const grid = shallowRef<Grid>()
  const n = ref(0)
  const sheet = computed(() => table.book.value[n.value])
  const decimal = computed(() => table.manner.value?.decimal || '.')
  const language = voice.language
  const reads = computed(() => reader(decimal.value, language.value))
  const shown = (r: number, c: number) => reads.value.shown(cellAt(sheet.value, r, c), table.resultAt(n.value, r, c))
  const edited = (r: number, c: number) => reads.value.edited(cellAt(sheet.value, r, c))
  const read = (text: string) => (text.startsWith('=') ? text : reads.value.shown({ t: text }, undefined).text)
  const heading = (c: number) => headingOf(table.book.value, n.value, c, lettersOf(c))

  /** How I look at it; others see it their own way. Rows stay where they are while one writes. */
  const lens = ref<Lens>({ only: {} })
  const rows = ref<number[]>([])
  const looked = () => (rows.value = sheet.value ? rowsThrough(sheet.value, lens.value, shown, language.value) : [])
  watch([n, lens, () => sheet.value?.rows.length, () => sheet.value?.head], looked, { deep: true })
  function by(c: number) {
    const { by, down } = lens.value
    lens.value = by !== c ? { ...lens.value, by: c, down: false } : down ? { only: lens.value.only } : { ...lens.value, down: true }
  }
  const looksOtherwise = computed(() => lens.value.by !== undefined || Object.values(lens.value.only).some(Boolean))

  const chosen = ref({ anchor: { v: 0, c: 0 }, head: { v: 0, c: 0 } })
  const rowAt = (v: number) => {
    const head = sheet.value?.head ?? 0
    return v < head ? v : (rows.value[v - head] ?? sheet.value?.rows.length ?? 0)
  }
  const seenAt = (r: number) => {
    const head = sheet.value?.head ?? 0
    return r < head ? r : head + Math.max(0, rows.value.indexOf(r))
  }
  const box = computed(() => {
    const { anchor: a, head: h } = chosen.value
    return { top: Math.min(a.v, h.v), bottom: Math.max(a.v, h.v), left: Math.min(a.c, h.c), right: Math.max(a.c, h.c) }
  })
  const here = computed(() => ({ r: rowAt(chosen.value.head.v), c: chosen.value.head.c }))
  watch([chosen, n], () =>
    table.move({
      sheet: n.value,
      anchor: { r: rowAt(chosen.value.anchor.v), c: chosen.value.anchor.c },
      head: { r: here.value.r, c: here.value.c },
    }),
  )
  /** One begins below the headings. */
  watch(sheet, (s, before) => {
    if (s && !before && s.rows.length > s.head) chosen.value = { anchor: { v: s.head, c: 0 }, head: { v: s.head, c: 0 } }
  })
  const typing = ref<string>()
  const acts = useActs(table, n, rowAt, box, reads, decimal, language, refuses)
  watch(table.changes, () => void table.askChanged())

  async function show(to: { sheet: number; row: number; column: number }) {
    n.value = to.sheet
    if (to.row >= (sheet.value?.head ?? 0) && !rows.value.includes(to.row)) lens.value = { only: {} }
    await nextTick()
    grid.value?.go(seenAt(to.row), to.column)
    grid.value?.focus()
  }

  const doubts = computed(() => doubtsIn(table.book.value, n.value))
  const pens = computed(() =>
    pensBeside(
      table.pens.value,
      Object.entries(table.names.value).map(([id, name]) => ({ id, name })),
    ),
  )
  const penOf = (by: string) => pens.value.find((p) => p.person === by) ?? { letter: '?', name: nameOf(by) }
  const others = computed(() =>
    table.pens.value.flatMap((pen) => {
      const at = pen.person === table.me ? undefined : table.carets.value.get(pen.page)
      return at ? [{ pen, at }] : []
    }),
  )
  /** Whoever is followed is where one looks, until one does something oneself. */
  const following = ref<string>()
  const followed = computed(() => others.value.find((o) => o.pen.person === following.value)?.at)
  watch(followed, async (at) => {
    if (!at) return
    n.value = at.sheet
    await nextTick()
    grid.value?.reveal(seenAt(at.head.r), at.head.c)
  })
  watch(typing, (typed) => typed !== undefined && (following.value = undefined))
  /** Where each of them is: in which row, at which heading. */
  const whereabouts = computed(() => {
    const all: Record<string, string> = {}
    for (const { pen, at } of others.value)
      all[pen.person] = t('writing.grid.rowAt', {
        row: at.head.r + 1,
        column: headingOf(table.book.value, at.sheet, at.head.c, lettersOf(at.head.c)),
      })
    all[table.me] = t('writing.grid.rowAt', { row: here.value.r + 1, column: heading(here.value.c) })
    return all
  })
  /** The chosen cells for what is said of them, as far as that many can be counted. */
  const mostCounted = 50_000
  const counted = shallowRef<{ r: number; c: number; shown: Shown }[]>([])
  function count() {
    const { top, bottom, left, right } = box.value
    // One cell says little: it is its column that counts.
    const one = top === bottom && left === right
    const views = one ? rows.value : Array.from({ length: bottom - top + 1 }, (_, i) => rowAt(top + i))
    const all = []
    for (const r of views) for (let c = left; c <= right && all.length < mostCounted; c++) all.push({ r, c, shown: shown(r, c) })
    counted.value = all
  }
  watchDebounced([box, rows, table.changes, table.reckoned], count, { debounce: 120, maxWait: 600 })
  const number = (x: number) => {
    const { r, c } = counted.value[0] ?? here.value
    return shownNumber(x, cellAt(sheet.value, r, c).f ?? '', language.value)
  }
  const plain = (x: number) => x.toLocaleString(language.value)
  const chosenRows = computed(() => box.value.bottom - box.value.top + 1)
  const chosenColumns = computed(() => box.value.right - box.value.left + 1)
  const rowActs = computed(() => [
    { label: t('writing.grid.rowAbove', { n: voice.count(chosenRows.value) }, chosenRows.value), do: () => acts.add('rows', false) },
    { label: t('writing.grid.rowBelow', { n: voice.count(chosenRows.value) }, chosenRows.value), do: () => acts.add('rows', true) },
    { label: t('writing.grid.rowAway', { n: voice.count(chosenRows.value) }, chosenRows.value), do: () => acts.drop('rows') },
  ])
  const columnActs = computed(() => [
    {
      label: t('writing.grid.columnBefore', { n: voice.count(chosenColumns.value) }, chosenColumns.value),
      do: () => acts.add('columns', false),
    },
    {
      label: t('writing.grid.columnAfter', { n: voice.count(chosenColumns.value) }, chosenColumns.value),
      do: () => acts.add('columns', true),
    },
    { label: t('writing.grid.columnAway', { n: voice.count(chosenColumns.value) }, chosenColumns.value), do: () => acts.drop('columns') },
  ])

  return {
    grid,
    n,
    sheet,
    shown,
    edited,
    read,
    heading,
    lens,
    rows,
    by,
    looksOtherwise,
    chosen,
    here,
    typing,
    acts,
    show,
    doubts,
    penOf,
    others,
    following,
    whereabouts,
    counted,
    number,
    plain,
    rowActs,
    columnActs,
  }
}

export type TableRoom = ReturnType<typeof useTableRoom>
