import type { Book, Sheet } from './book'
import { cellAt } from './book'
import type { Shown } from './shown'

/** How one looks at a sheet, for oneself alone: its rows in another order, or only some. */
export interface Lens {
  by?: number
  down?: boolean
  /** What rows have to hold in a column. */
  only: Record<number, string>
}

/** The rows below the headings as they are looked at, by where they stand. */
export function rowsThrough(sheet: Sheet, lens: Lens, shown: (r: number, c: number) => Shown, language: string): number[] {
  const rows = Array.from({ length: Math.max(0, sheet.rows.length - sheet.head) }, (_, i) => i + sheet.head)
  const wanted = Object.entries(lens.only).flatMap(([c, words]) =>
    words.trim() ? [{ c: Number(c), words: words.trim().toLowerCase() }] : [],
  )
  const left = wanted.length ? rows.filter((r) => wanted.every((w) => shown(r, w.c).text.toLowerCase().includes(w.words))) : rows
  if (lens.by === undefined) return left
  const order = new Intl.Collator(language, { numeric: true })
  const keys = new Map(left.map((r) => [r, shown(r, lens.by!)]))
  const sign = lens.down ? -1 : 1
  return left.sort((a, b) => {
    const [x, y] = [keys.get(a)!, keys.get(b)!]
    // What is empty comes last, whichever way.
    if (!x.text || !y.text) return Number(!x.text) - Number(!y.text) || a - b
    if (x.number !== undefined && y.number !== undefined) return sign * (x.number - y.number) || a - b
    if ((x.number === undefined) !== (y.number === undefined)) return sign * (x.number === undefined ? 1 : -1)
    return sign * order.compare(x.text, y.text) || a - b
  })
}

/** What a column is called: its heading, or its letters. */
export function headingOf(book: Book, sheet: number, c: number, letters: string): string {
  const s = book[sheet]
  return (s && s.head > 0 && cellAt(s, s.head - 1, c).t.replace(/^'/, '')) || letters
}
