import type { ComputedRef, Ref } from 'vue'
import { cellAt, mostColumns, mostRows, type Book, type Step } from './book'
import { copied } from './formula'
import { cellsFrom, textFrom, type Reader } from './shown'
import type { Table } from './table'
import { typed } from './values'

/** Which cells are chosen, by where they are seen. */
export interface Box {
  top: number
  bottom: number
  left: number
  right: number
}
const mostText = 32_767
const mostFormula = 8_192
/** How often rows may come and go at once. */
const mostMoves = 200

/** What was copied here last, so that formulas go along. */
let taken: { text: string; rows: number[]; left: number; cells: string[][] } | undefined

/** What can be done with the chosen cells. Refused says why something is not done. */
export function useActs(
  table: Table,
  n: Ref<number>,
  rowAt: (v: number) => number,
  box: ComputedRef<Box>,
  reads: ComputedRef<Reader>,
  decimal: ComputedRef<string>,
  language: ComputedRef<string>,
  refused: (why: 'long' | 'wide' | 'high' | 'many') => void,
) {
  const sheet = () => table.book.value[n.value]!
  const rows = () => Array.from({ length: box.value.bottom - box.value.top + 1 }, (_, i) => rowAt(box.value.top + i))
  const columns = () => Array.from({ length: box.value.right - box.value.left + 1 }, (_, i) => box.value.left + i)

  function set(cells: { r: number; c: number; t: string }[]) {
    if (cells.some((e) => e.t.length > (e.t.startsWith('=') ? mostFormula : mostText))) return refused('long')
    if (cells.some((e) => e.r >= mostRows)) return refused('high')
    if (cells.some((e) => e.c >= mostColumns)) return refused('wide')
    // What is the same already is not written; what is in doubt is decided by it.
    const news = cells.filter((e) => {
      const was = cellAt(sheet(), e.r, e.c)
      return was.t !== e.t || was.d || e.r >= sheet().rows.length
    })
    if (news.length) table.act([{ op: 'set', sheet: n.value, cells: news }])
  }

  function write(r: number, c: number, text: string) {
    set([{ r, c, t: typed(text, decimal.value, language.value) }])
  }
  const clear = () =>
    set(
      rows()
        .flatMap((r) => columns().map((c) => ({ r, c, t: '' })))
        .filter((e) => cellAt(sheet(), e.r, e.c).t),
    )

  /** The first of the chosen rows goes on in the others; of one row, the one above. */
  function fill() {
    const all = rows()
    const from = all.length > 1 ? all[0]! : rowAt(Math.max(0, box.value.top - 1))
    const to = all.length > 1 ? all.slice(1) : all
    set(to.flatMap((r) => columns().map((c) => ({ r, c, t: copied(cellAt(sheet(), from, c).t, r - from, 0) }))))
  }

  function copy(e: ClipboardEvent, cut: boolean) {
    const text = textFrom(
      rows().map((r) => columns().map((c) => reads.value.shown(cellAt(sheet(), r, c), table.resultAt(n.value, r, c)).text)),
    )
    taken = { text, rows: rows(), left: box.value.left, cells: rows().map((r) => columns().map((c) => cellAt(sheet(), r, c).t)) }
    e.clipboardData?.setData('text/plain', text)
    e.preventDefault()
    if (cut && table.writes.value) clear()
  }
  function paste(e: ClipboardEvent) {
    if (!table.writes.value) return
    e.preventDefault()
    const text = e.clipboardData?.getData('text/plain') ?? ''
    if (!text) return
    const own = taken?.text.replace(/\r\n?/g, '\n') === text.replace(/\r\n?/g, '\n') ? taken : undefined
    const cells = own?.cells ?? cellsFrom(text)
    const high = Math.max(cells.length, box.value.bottom - box.value.top + 1)
    const wide = Math.max(cells[0]?.length ?? 0, box.value.right - box.value.left + 1)
    // One cell, or a row of them, fills all that is chosen.
    const repeats = cells.length === 1 && cells[0]!.length === 1
    set(
      Array.from({ length: repeats ? high : cells.length }, (_, i) => {
        const row = cells[repeats ? 0 : i]!
        const r =
          rowAt(box.value.top + i) === sheet().rows.length
            ? sheet().rows.length + Math.max(0, box.value.top + i - below())
            : rowAt(box.value.top + i)
        return Array.from({ length: repeats ? wide : row.length }, (_, j) => {
          const c = box.value.left + j
          const t = row[repeats ? 0 : j]!
          return {
            r,
            c,
            t: own ? copied(t, r - own.rows[repeats ? 0 : i]!, c - own.left - (repeats ? 0 : j)) : typed(t, decimal.value, language.value),
          }
        })
      }).flat(),
    )
  }
  /** How many rows are seen: those pasted beyond come after the last one. */
  const below = () => {
    let v = box.value.top
    while (rowAt(v) < sheet().rows.length) v++
    return v
  }

  /** Rows or columns that lie together, from the last one to the first. */
  function together(all: number[]): [at: number, count: number][] {
    const runs: [number, number][] = []
    for (const r of [...all].sort((a, b) => b - a)) {
      const last = runs.at(-1)
      if (last && last[0] === r + 1) {
        last[0] = r
        last[1]++
      } else runs.push([r, 1])
    }
    return runs
  }
  const chosenRows = () => rows().filter((r) => r < sheet().rows.length)
  function add(op: 'rows' | 'columns', after: boolean) {
    const all = op === 'rows' ? chosenRows() : columns()
    const at = all.length ? (after ? Math.max(...all) + 1 : Math.min(...all)) : sheet().rows.length
    if (op === 'rows' ? sheet().rows.length + all.length > mostRows : sheet().columns + all.length > mostColumns)
      return refused(op === 'rows' ? 'high' : 'wide')
    table.act([{ op, sheet: n.value, at, add: Math.max(1, all.length) }])
  }
  function drop(op: 'rows' | 'columns') {
    const all = op === 'rows' ? chosenRows() : columns()
    if (op === 'columns' && all.length >= sheet().columns) return clear()
    const runs = together(all)
    if (runs.length > mostMoves) return refused('many')
    table.act(runs.map(([at, count]): Step => ({ op, sheet: n.value, at, drop: count })))
  }
  function format(code: string) {
    table.act(
      together(chosenRows()).map(([row, count]): Step => ({
        op: 'format',
        sheet: n.value,
        area: { row, column: box.value.left, rows: count, columns: columns().length },
        format: code,
      })),
    )
  }
  return { write, set, clear, fill, copy, paste, add, drop, format }
}

/** The cells of a sheet that several wrote at the same moment. */
export function doubtsIn(book: Book, n: number): { r: number; c: number }[] {
  return (book[n]?.rows ?? []).flatMap((row, r) => row.flatMap((cell, c) => (cell.d ? [{ r, c }] : [])))
}
