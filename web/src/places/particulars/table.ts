import Papa from 'papaparse'
import type { Schemas } from '../../api/client'
import type { Particular } from '../../queries/particulars'

/** A table as it was read: which particulars its columns are, and which columns are none. */
export interface ReadTable {
  columns: Particular[]
  rows: Schemas['ParticularRow'][]
  /** The line of the file in which each row stands. */
  lines: number[]
  unknown: string[]
}

/** The columns that a register's own table has beside particulars. */
const own = ['document', 'name', 'version', 'bytes', 'type', 'changed']
const numbers = ['number', 'no.', 'no', 'nummer', 'nr.', 'nr']
const most = 1000
const key = (s: string) => s.trim().toLowerCase()

/** Reads a CSV file (RFC 4180, and with semicolons or tabs), or says why it cannot be one. */
export async function readTable(file: File, defined: Particular[]): Promise<ReadTable | 'large' | 'noNumber' | 'noColumn' | 'long'> {
  if (file.size > 5_000_000) return 'large'
  const { data } = Papa.parse<string[]>(await text(file), { skipEmptyLines: false })
  const [head = [], ...body] = data
  const at = head.findIndex((h) => numbers.includes(key(h)))
  if (at < 0) return 'noNumber'
  const found = head.flatMap((h, column) => {
    const particular = defined.find((p) => key(p.name) === key(h))
    return particular && column !== at ? [{ column, particular }] : []
  })
  if (!found.length) return 'noColumn'
  const rows = body.map((cells, i) => ({ cells, line: i + 2 })).filter(({ cells }) => cells.some((c) => c.trim()))
  if (rows.length > most) return 'long'
  return {
    columns: found.map((f) => f.particular),
    // A number that is none names no document.
    rows: rows.map(({ cells }) => ({
      number: /^\d{1,9}$/.test(cells[at]?.trim() ?? '') ? Number(cells[at]) || 2_000_000_000 : 2_000_000_000,
      cells: found.map((f) => (cells[f.column] ?? '').trim().slice(0, 5000)),
    })),
    lines: rows.map((r) => r.line),
    unknown: head.filter((h, i) => i !== at && h.trim() && !own.includes(key(h)) && !found.some((f) => f.column === i)),
  }
}

/** Text in UTF-8, or where that does not fit as older programs of an office write it. */
async function text(file: File): Promise<string> {
  const bytes = await file.arrayBuffer()
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes)
  } catch {
    return new TextDecoder('windows-1252').decode(bytes)
  }
}
