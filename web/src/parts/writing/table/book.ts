import type { Schemas } from '../../../api/client'
import { followed } from './formula'

/** What stands at a place of a table, as it was typed. */
export interface Cell {
  t: string
  /** How a number is shown: a number format code (ECMA-376 part 1, 18.8.31). */
  f?: string
  d?: Schemas['TableDoubt']
}
export interface Sheet {
  name: string
  /** How many rows at the top are headings. */
  head: number
  columns: number
  rows: readonly (readonly Cell[])[]
}
export type Book = readonly Sheet[]

/** One change of a sheet, as core/table has it. */
export interface Step {
  op: 'set' | 'rows' | 'columns' | 'format'
  sheet: number
  cells?: Entry[]
  at?: number
  add?: number
  drop?: number
  area?: Area
  format?: string
}
export interface Area {
  row: number
  column: number
  rows: number
  columns: number
}
interface Entry {
  r: number
  c: number
  t: string
  /** What was seen there by whoever writes. */
  s?: string
  w?: string
  d?: Schemas['TableDoubt']
}

/** The most that a sheet holds. */
export const mostRows = 50_000
export const mostColumns = 250

const nothing: Cell = { t: '' }
const isNothing = (c: Cell) => !c.t && !c.f && !c.d

export const readBook = (table: Schemas['WrittenTable']): Book =>
  table.sheets.map((s) => ({ ...s, rows: s.rows.map((row) => row.map((c) => (typeof c === 'string' ? { t: c } : { t: '', ...c }))) }))

export const cellAt = (s: Sheet | undefined, row: number, column: number): Cell => s?.rows[row]?.[column] ?? nothing

function put(row: readonly Cell[] | undefined, column: number, cell: Cell): Cell[] {
  const next = row ? row.slice() : []
  while (next.length <= column) next.push(nothing)
  next[column] = cell
  while (next.length && isNothing(next[next.length - 1]!)) next.pop()
  return next
}

/** The table after a step that was made on it, or carried there. */
export function applied(book: Book, s: Step): Book {
  const before = book[s.sheet]!
  const sheet = { ...before }
  const next = book.slice()
  next[s.sheet] = sheet
  if (s.op === 'set') {
    const rows = sheet.rows.slice()
    for (const e of s.cells ?? []) {
      while (rows.length <= e.r) rows.push([])
      sheet.columns = Math.max(sheet.columns, e.c + 1)
      const f = rows[e.r]![e.c]?.f
      rows[e.r] = put(rows[e.r], e.c, { t: e.t, ...(f ? { f } : {}), ...(e.d ? { d: e.d } : {}) })
    }
    sheet.rows = rows
    return next
  }
  if (s.op === 'format') {
    const a = s.area!
    const rows = sheet.rows.slice()
    for (let r = a.row; r < Math.min(a.row + a.rows, rows.length); r++)
      for (let c = a.column; c < Math.min(a.column + a.columns, sheet.columns); c++) {
        const { t, d } = rows[r]![c] ?? nothing
        rows[r] = put(rows[r], c, { t, ...(s.format ? { f: s.format } : {}), ...(d ? { d } : {}) })
      }
    sheet.rows = rows
    return next
  }
  return moved(next, sheet, s)
}

function moved(next: Sheet[], sheet: Sheet, s: Step): Book {
  const long = s.op === 'rows' ? sheet.rows.length : sheet.columns
  const at = Math.min(s.at ?? 0, long)
  const add = s.add ?? 0
  const drop = Math.min(s.drop ?? 0, long - at)
  if (!add && !drop) return next
  if (s.op === 'rows') {
    sheet.rows = [...sheet.rows.slice(0, at), ...Array.from({ length: add }, () => []), ...sheet.rows.slice(at + drop)]
    if (at < sheet.head) sheet.head = add ? sheet.head + add : Math.max(at, sheet.head - drop)
  } else {
    sheet.columns += add - drop
    sheet.rows = sheet.rows.map((row) => {
      if (row.length <= at) return row
      const kept = [...row.slice(0, at), ...Array.from({ length: add }, () => nothing), ...row.slice(at + drop)]
      while (kept.length && isNothing(kept[kept.length - 1]!)) kept.pop()
      return kept
    })
  }
  const names = next.map((x) => x.name)
  const step = { ...s, at, add, drop }
  return next.map((x, own) => {
    let changed = false
    const rows = x.rows.map((row) => {
      if (!row.some((c) => c.t.startsWith('='))) return row
      const again = row.map((c) => {
        const t = followed(c.t, names, own, step)
        return t === c.t ? c : { ...c, t }
      })
      if (again.every((c, i) => c === row[i])) return row
      changed = true
      return again
    })
    return changed ? { ...x, rows } : x
  })
}

/** What is left of steps after others that came first, and of these after them. */
export function across(mine: Step[], theirs: Step[], names: string[]): [Step[], Step[]] {
  if (!mine.length || !theirs.length) return [mine, theirs]
  if (mine.length > 1) {
    const [first, t] = across(mine.slice(0, 1), theirs, names)
    const [rest, u] = across(mine.slice(1), t, names)
    return [[...first, ...rest], u]
  }
  if (theirs.length > 1) {
    const [m, first] = across(mine, theirs.slice(0, 1), names)
    const [n, rest] = across(m, theirs.slice(1), names)
    return [n, [...first, ...rest]]
  }
  return [over(mine[0]!, theirs[0]!, true, names), over(theirs[0]!, mine[0]!, false, names)]
}

/** What is left of a step after another; later says that it comes second of both. */
function over(s: Step, other: Step, later: boolean, names: string[]): Step[] {
  if (other.op === 'set' && s.op === 'set' && s.sheet === other.sheet && !later) {
    const cells = s.cells!.filter((e) => !other.cells!.some((o) => o.r === e.r && o.c === e.c))
    return cells.length ? [{ ...s, cells }] : []
  }
  if (other.op !== 'rows' && other.op !== 'columns') return [s]
  if (s.op === 'set') {
    const cells = s.cells!.flatMap((e) => {
      const t = followed(e.t, names, s.sheet, other)
      const seen = e.s === undefined ? {} : { s: followed(e.s, names, s.sheet, other) }
      if (s.sheet !== other.sheet) return [{ ...e, t, ...seen }]
      const p = placeOver({ r: e.r, c: e.c }, other)
      return p ? [{ ...e, ...p, t, ...seen }] : []
    })
    return cells.length ? [{ ...s, cells }] : []
  }
  if (s.sheet !== other.sheet) return [s]
  if (s.op === 'format') return areaOver(s, other)
  if (s.op !== other.op) return [s]
  if (s.add) return [{ ...s, at: pointOver(s.at ?? 0, other, later) }]
  return dropOver(s, other)
}

function pointOver(at: number, other: Step, later: boolean): number {
  const from = other.at ?? 0
  if (other.add && (at > from || (at === from && later))) return at + other.add
  if (other.drop && at > from) return Math.max(from, at - other.drop)
  return at
}

/** Where a cell is after rows or columns came or went; undefined where it is gone. */
export function placeOver(p: { r: number; c: number }, other: Step): { r: number; c: number } | undefined {
  const axis = other.op === 'rows' ? 'r' : 'c'
  const from = other.at ?? 0
  if (other.drop && p[axis] >= from && p[axis] < from + other.drop) return undefined
  return { ...p, [axis]: pointOver(p[axis], other, true) }
}

function areaOver(s: Step, other: Step): Step[] {
  const [from, long] = other.op === 'rows' ? (['row', 'rows'] as const) : (['column', 'columns'] as const)
  const a = { ...s.area! }
  const end = a[from] + a[long]
  const at = other.at ?? 0
  if (other.add && at <= a[from]) a[from] += other.add
  else if (other.add && at < end) a[long] += other.add
  else if (other.drop) {
    a[from] = pointOver(a[from], other, true)
    a[long] = pointOver(end, other, true) - a[from]
  }
  return a[long] < 1 ? [] : [{ ...s, area: a }]
}

function dropOver(s: Step, other: Step): Step[] {
  const at = s.at ?? 0
  const end = at + s.drop!
  const theirs = other.at ?? 0
  if (other.add && theirs > at && theirs < end)
    return [
      { ...s, drop: theirs - at },
      { ...s, at: at + other.add, drop: end - theirs },
    ]
  const from = pointOver(at, other, true)
  const drop = (other.add && theirs >= end ? end : pointOver(end, other, true)) - from
  return drop < 1 ? [] : [{ ...s, at: from, drop }]
}

/** What undoes a step that is made on a table. */
export function inverse(book: Book, s: Step): Step[] {
  const sheet = book[s.sheet]!
  if (s.op === 'set') return [{ op: 'set', sheet: s.sheet, cells: s.cells!.map((e) => ({ r: e.r, c: e.c, t: cellAt(sheet, e.r, e.c).t })) }]
  if (s.op === 'format') return formatsOf(sheet, s.sheet, s.area!)
  if (s.add) return [{ op: s.op, sheet: s.sheet, at: s.at ?? 0, drop: s.add }]
  const byRow = s.op === 'rows'
  const at = s.at ?? 0
  const drop = Math.min(s.drop!, (byRow ? sheet.rows.length : sheet.columns) - at)
  if (drop < 1) return []
  const area: Area = byRow
    ? { row: at, column: 0, rows: drop, columns: sheet.columns }
    : { row: 0, column: at, rows: sheet.rows.length, columns: drop }
  const back: Step = { op: s.op, sheet: s.sheet, at, add: drop }
  const again = applied(applied(book, s), back)
  // What went is written anew, and so is every formula that lost what it referred to.
  const writes = book.flatMap((x, n) => {
    const cells = x.rows.flatMap((row, r) => row.flatMap((cell, c) => (cell.t !== cellAt(again[n], r, c).t ? [{ r, c, t: cell.t }] : [])))
    return cells.length ? [{ op: 'set' as const, sheet: n, cells }] : []
  })
  return [back, ...writes, ...formatsOf(sheet, s.sheet, area)]
}

function formatsOf(sheet: Sheet, n: number, a: Area): Step[] {
  const steps: Step[] = []
  for (let c = a.column; c < a.column + a.columns; c++)
    for (let r = a.row; r < a.row + a.rows;) {
      const format = cellAt(sheet, r, c).f ?? ''
      let end = r + 1
      while (end < a.row + a.rows && (cellAt(sheet, end, c).f ?? '') === format) end++
      steps.push({ op: 'format', sheet: n, area: { row: r, column: c, rows: end - r, columns: 1 }, format })
      r = end
    }
  return steps
}
