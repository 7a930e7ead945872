/** What a cell's text is taken for, as core/table takes it. */
export type Value =
  | { kind: 'empty' }
  | { kind: 'text'; text: string }
  | { kind: 'number' | 'date' | 'truth'; number: number; text: string }
  | { kind: 'formula'; text: string }

const numeric = /^-?(?:0|[1-9][0-9]{0,17})(?:\.[0-9]{1,18})?(?:[eE][+-]?[0-9]{1,3})?%?$/
const isoDate = /^[0-9]{4}-[0-9]{2}-[0-9]{2}$/
const dayZero = Date.UTC(1899, 11, 30)
const oneDay = 86_400_000

export function valueOf(text: string, decimal: string): Value {
  if (!text) return { kind: 'empty' }
  if (text.startsWith('=') && text.length > 1) return { kind: 'formula', text: text.slice(1) }
  if (text.startsWith("'")) return { kind: 'text', text: text.slice(1) }
  if (text === 'TRUE' || text === 'FALSE') return { kind: 'truth', number: Number(text === 'TRUE'), text }
  if (isoDate.test(text)) {
    const at = Date.parse(`${text}T00:00:00Z`)
    const sound = !Number.isNaN(at) && new Date(at).toISOString().startsWith(text) && at > dayZero
    return sound ? { kind: 'date', number: Math.round((at - dayZero) / oneDay), text } : { kind: 'text', text }
  }
  if (decimal === ',' && text.includes('.')) return { kind: 'text', text }
  const plain = decimal === ',' ? text.replace(',', '.') : text
  const number = Number(plain.replace('%', '')) / (plain.endsWith('%') ? 100 : 1)
  return numeric.test(plain) && Number.isFinite(number) ? { kind: 'number', number, text } : { kind: 'text', text }
}

/** How numbers can be shown, by their codes; others stay in the file and are shown as plain numbers. */
export const formats = ['', '0', '0.0', '0.00', '#,##0.00', '0.0%', 'yyyy-mm-dd', '@'] as const

/** Making what formats numbers takes far longer than formatting: each is made once. */
const made = new Map<string, Intl.NumberFormat | Intl.DateTimeFormat>()
function once<T extends Intl.NumberFormat | Intl.DateTimeFormat>(key: string, make: () => T): T {
  let f = made.get(key)
  if (!f) made.set(key, (f = make()))
  return f as T
}

/** A number as its format shows it, in the reader's language. */
export function shownNumber(n: number, format: string, language: string): string {
  const key = `${language} ${format}`
  if (isDay(format) && n >= 1 && n < 2_958_466)
    return once(key, () => new Intl.DateTimeFormat(language, { dateStyle: 'medium', timeZone: 'UTC' })).format(
      dayZero + Math.floor(n) * oneDay,
    )
  const m = /^(#,##)?0(\.0+)?(%)?$/.exec(format)
  const digits = m?.[2] ? m[2].length - 1 : 0
  return once(key, () =>
    m
      ? new Intl.NumberFormat(language, {
          minimumFractionDigits: digits,
          maximumFractionDigits: digits,
          useGrouping: !!m[1],
          style: m[3] ? 'percent' : 'decimal',
        })
      : new Intl.NumberFormat(language, { maximumSignificantDigits: 11, useGrouping: false }),
  ).format(n)
}

/** Whether a format shows a day: it has days or years outside of what is quoted. */
const isDay = (format: string) => /[yd]/i.test(format.replace(/"[^"]*"|\[[^\]]*\]|\\./g, ''))

/** What somebody typed, as it stands in a cell: with the table's own sign before decimals, days as ISO dates. */
export function typed(text: string, decimal: string, language: string): string {
  const trimmed = text.trim()
  const sign = decimalOf(language)
  if (/^-?[0-9]+[.,][0-9]+%?$/.test(trimmed)) {
    const has = trimmed.includes(',') ? ',' : '.'
    if (has === sign || has === decimal) return trimmed.replace(has, decimal)
  }
  const day = /^([0-9]{1,2})\.([0-9]{1,2})\.([0-9]{4})$/.exec(trimmed)
  if (day && language.startsWith('de')) return `${day[3]}-${day[2]!.padStart(2, '0')}-${day[1]!.padStart(2, '0')}`
  return /^[0-9.,%-]+$/.test(trimmed) ? trimmed : text
}

export const decimalOf = (language: string) =>
  once(language, () => new Intl.NumberFormat(language))
    .formatToParts(1.5)
    .find((p) => p.type === 'decimal')?.value ?? '.'
