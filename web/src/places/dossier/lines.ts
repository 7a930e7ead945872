import { computed, toValue, type MaybeRefOrGetter, type Ref } from 'vue'
import type { Schemas } from '../../api/client'

type Row = Schemas['DocumentRow']

/** What stands above the documents of a group: what they have in common, how many they are, and which is the first. */
export interface GroupHead {
  words: string
  n?: number
  first: number
}

/** A line of a register: a group's head, or one or several documents by their places in it. */
export type Line =
  { key: string; head: GroupHead; rows?: undefined; across?: undefined } | { key: string; head?: undefined; rows: number[]; across: number }

interface Arranged {
  /** How many documents each group has. */
  groups: MaybeRefOrGetter<Schemas['RegisterTogether'][]>
  grouped: MaybeRefOrGetter<boolean>
  words: (row: Row) => string
  /** How many documents stand beside one another. */
  across: MaybeRefOrGetter<number>
  /** How high a line of documents is, in CSS pixels. */
  height: MaybeRefOrGetter<number>
}

const headHeight = 30

/** The lines in which a register's documents stand, as far as they are known. */
export function useLines(rows: Ref<Row[]>, arranged: Arranged) {
  const laid = computed(() => {
    const lines: Line[] = []
    const of: number[] = []
    const across = toValue(arranged.across)
    const counts = new Map(toValue(arranged.groups).map((g) => [g.key, g.n]))
    let group: string | undefined
    rows.value.forEach((row, i) => {
      const key = row.group ?? ''
      if (toValue(arranged.grouped) && (i === 0 || key !== group)) {
        lines.push({ key: `group ${key}`, head: { words: arranged.words(row), n: counts.get(key), first: i } })
        group = key
      }
      const last = lines.at(-1)
      if (last?.rows && last.rows.length < across) last.rows.push(i)
      else lines.push({ key: row.id, rows: [i], across })
      of[i] = lines.length - 1
    })
    return { lines, of }
  })
  return {
    lines: computed(() => laid.value.lines),
    lineOf: (row: number) => laid.value.of[row] ?? 0,
    heightOf: (line: number) => (laid.value.lines[line]?.head ? headHeight : toValue(arranged.height)),
  }
}
