import type { Step } from './book'

/** References of a formula, and what only looks like one; core/table has the same expression, and tests hold both to the same answers. */
const references =
  /"(?:[^"]|"")*"|(?:('(?:[^']|'')+'|[\p{L}_][\p{L}\p{N}_.]*)!)?(?:(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7}))?|(\$?)([A-Za-z]{1,3}):(\$?)([A-Za-z]{1,3})|(\$?)([0-9]{1,7}):(\$?)([0-9]{1,7}))/uy
const wordly = /^[\p{L}\p{N}_.]$/u

interface Point {
  fixedColumn: string
  column: number
  fixedRow: string
  row: number
}
interface Reference {
  /** The sheet as it is written, with its mark; '' where none is. */
  prefix: string
  kind: 'cells' | 'columns' | 'rows'
  from: Point
  to?: Point
}

export function lettersOf(column: number): string {
  let s = ''
  for (let n = column + 1; n > 0; n = Math.floor((n - 1) / 26)) s = String.fromCharCode(65 + ((n - 1) % 26)) + s
  return s
}
function columnOf(letters: string): number {
  let n = 0
  for (const l of letters.toUpperCase()) n = n * 26 + l.charCodeAt(0) - 64
  return n - 1
}

/** A formula with each of its references as something else; undefined leaves one as it is. */
export function replaced(formula: string, write: (r: Reference) => string | undefined): string {
  let out = ''
  let last = 0
  for (let at = 1; at < formula.length;) {
    references.lastIndex = at
    const m = references.exec(formula)
    if (!m) {
      at += formula.codePointAt(at)! > 0xffff ? 2 : 1
      continue
    }
    const end = at + m[0].length
    if (m[0].startsWith('"')) {
      at = end
      continue
    }
    if (partOfWord(formula, at, end)) {
      at += wordLength(formula.slice(at))
      continue
    }
    const r = referenceOf(m)
    const said = r && write(r)
    if (said !== undefined) {
      out += formula.slice(last, at) + said
      last = end
    }
    at = end
  }
  return last ? out + formula.slice(last) : formula
}

function referenceOf(m: RegExpExecArray): Reference | undefined {
  const prefix = m[1] ? `${m[1]}!` : ''
  const point = (fixedColumn = '', letters = 'A', fixedRow = '', row = '1'): Point => ({
    fixedColumn,
    column: columnOf(letters),
    fixedRow,
    row: Number(row) - 1,
  })
  let r: Reference
  if (m[3]) r = { prefix, kind: 'cells', from: point(m[2], m[3], m[4], m[5]), ...(m[7] ? { to: point(m[6], m[7], m[8], m[9]) } : {}) }
  else if (m[11]) r = { prefix, kind: 'columns', from: point(m[10], m[11]), to: point(m[12], m[13]) }
  else r = { prefix, kind: 'rows', from: point('', 'A', m[14], m[15]), to: point('', 'A', m[16], m[17]) }
  return r.from.row < 0 || (r.to?.row ?? 0) < 0 ? undefined : r
}

function partOfWord(formula: string, start: number, end: number): boolean {
  const before = [...formula.slice(Math.max(0, start - 2), start)].at(-1)
  if (before && (wordly.test(before) || before === '!')) return true
  const next = [...formula.slice(end, end + 2)][0]
  return !!next && (next === '(' || next === '!' || wordly.test(next))
}

function wordLength(s: string): number {
  let n = 0
  for (const l of s) {
    if (n > 0 && !wordly.test(l) && l !== '$') return n
    n += l.length
  }
  return s.length
}

export function written(r: Reference): string {
  const column = (p: Point) => p.fixedColumn + lettersOf(p.column)
  const row = (p: Point) => p.fixedRow + String(p.row + 1)
  if (r.kind === 'columns') return `${r.prefix}${column(r.from)}:${column(r.to!)}`
  if (r.kind === 'rows') return `${r.prefix}${row(r.from)}:${row(r.to!)}`
  return r.prefix + column(r.from) + row(r.from) + (r.to ? `:${column(r.to)}${row(r.to)}` : '')
}

function nameOf(prefix: string): string {
  const name = prefix.slice(0, -1)
  return name.startsWith("'") ? name.slice(1, -1).replaceAll("''", "'") : name
}

/** A formula of a sheet after rows or columns came or went; other texts stay. */
export function followed(text: string, names: string[], own: number, s: Step): string {
  if (!text.startsWith('=') || (s.op !== 'rows' && s.op !== 'columns')) return text
  return replaced(text, (r) => {
    const here = r.prefix ? nameOf(r.prefix).toLowerCase() === names[s.sheet]?.toLowerCase() : own === s.sheet
    if (!here || (s.op === 'rows' ? r.kind === 'columns' : r.kind === 'rows')) return undefined
    const axis = s.op === 'rows' ? 'row' : 'column'
    const [a, b] = [r.from[axis], (r.to ?? r.from)[axis]]
    let [start, end] = [Math.min(a, b), Math.max(a, b)]
    const at = s.at ?? 0
    if (s.add) {
      if (start >= at) start += s.add
      if (end >= at) end += s.add
    } else {
      const drop = s.drop ?? 0
      if (start > at) start = Math.max(at, start - drop)
      if (end + 1 > at) end = Math.max(at, end + 1 - drop) - 1
    }
    if (end < start) return `${r.prefix}#REF!`
    const [from, to] = a > b ? [end, start] : [start, end]
    return written({ ...r, from: { ...r.from, [axis]: from }, ...(r.to ? { to: { ...r.to, [axis]: to } } : {}) })
  })
}

/** A formula as it is written elsewhere: what is not fixed refers to cells that lie alike. */
export function copied(text: string, rows: number, columns: number): string {
  if (!text.startsWith('=')) return text
  return replaced(text, (r) => {
    const goes = (p: Point): Point => ({
      ...p,
      row: p.fixedRow || r.kind === 'columns' ? p.row : p.row + rows,
      column: p.fixedColumn || r.kind === 'rows' ? p.column : p.column + columns,
    })
    const [from, to] = [goes(r.from), r.to && goes(r.to)]
    if (Math.min(from.row, from.column, to?.row ?? 0, to?.column ?? 0) < 0) return `${r.prefix}#REF!`
    return written({ ...r, from, ...(to ? { to } : {}) })
  })
}
