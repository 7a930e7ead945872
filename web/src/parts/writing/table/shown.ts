import type { Schemas } from '../../../api/client'
import type { Cell } from './book'
import { decimalOf, shownNumber, valueOf } from './values'

/** A cell as it is read. */
export interface Shown {
  text: string
  /** It is a number: it stands on the right. */
  right: boolean
  error: boolean
  /** It is worked out. */
  worked: boolean
  number?: number
}

/** How cells are read: with the table's own sign before decimals, in the reader's language. */
export function reader(decimal: string, language: string) {
  const sign = decimalOf(language)
  const asTyped = (text: string) => (decimal === sign ? text : text.replace(decimal, sign))
  return {
    shown(cell: Cell, result: Schemas['TableResult'] | undefined): Shown {
      const v = valueOf(cell.t, decimal)
      const plain = { right: false, error: false, worked: false }
      switch (v.kind) {
        case 'empty':
          return { ...plain, text: '' }
        case 'text':
          return { ...plain, text: v.text }
        case 'truth':
          return { ...plain, text: v.text }
        case 'date':
          return {
            ...plain,
            text: shownNumber(v.number, cell.f && cell.f !== '@' ? cell.f : 'yyyy-mm-dd', language),
            right: true,
            number: v.number,
          }
        case 'number':
          return {
            ...plain,
            text: cell.f && cell.f !== '@' ? shownNumber(v.number, cell.f, language) : asTyped(v.text),
            right: true,
            number: v.number,
          }
      }
      if (!result) return { ...plain, text: '…', worked: true }
      if (result.error) return { text: result.error, right: false, error: true, worked: true }
      if (result.number === undefined) return { ...plain, text: result.text ?? '', worked: true }
      return { ...plain, text: shownNumber(result.number, cell.f ?? '', language), right: true, worked: true, number: result.number }
    },
    /** A cell's text as it is edited. */
    edited: (cell: Cell) => (valueOf(cell.t, decimal).kind === 'number' ? asTyped(cell.t) : cell.t),
  }
}
export type Reader = ReturnType<typeof reader>

/** Rows of cells from what another program copied: tabulators between cells, quotes around what has breaks. */
export function cellsFrom(text: string): string[][] {
  const rows: string[][] = [[]]
  let [cell, quoted, at] = ['', false, 0]
  const end = () => rows.at(-1)!.push(cell)
  for (const s = text.replace(/\r\n?/g, '\n').replace(/\n$/, ''); at < s.length; at++) {
    const c = s[at]!
    if (quoted) {
      if (c === '"' && s[at + 1] === '"') {
        cell += c
        at++
      } else if (c === '"') quoted = false
      else cell += c
    } else if (c === '"' && cell === '') quoted = true
    else if (c === '\t' || c === '\n') {
      end()
      cell = ''
      if (c === '\n') rows.push([])
    } else cell += c
  }
  end()
  return rows
}

/** Cells as text that other programs take. */
export const textFrom = (rows: string[][]) =>
  rows.map((row) => row.map((c) => (/[\t\n"]/.test(c) ? `"${c.replaceAll('"', '""')}"` : c)).join('\t')).join('\n')
