import type { components } from '../../api/schema.gen'
import type en from '../../i18n/en/fillsheet'

type Said = (typeof en)['fillsheet']

/** Says a word of filling in, in the language of whoever fills in; groups are reached by a dot. */
export type FillWord = (key: keyof Said | `reason.${string}` | `problem.${string}`, fill?: Record<string, string | number>) => string

export type Filling = components['schemas']['Filling']
export type Standing = components['schemas']['FillingStanding']
export type Section = components['schemas']['FillingSection']
export type Field = components['schemas']['FillingField']
export type Open = components['schemas']['FillingOpen']

/** How moments and days are said where a form is filled in. */
export interface FillVoice {
  language: string
  moment: (iso: string) => string
  clock: (iso: string) => string
}

/** A day as it is said: Wed 25 Nov 2026. */
export const dayWords = (iso: string, language: string) =>
  new Date(`${iso}T12:00:00Z`).toLocaleDateString(language === 'en' ? 'en-GB' : language, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    timeZone: 'UTC',
  })

/** An answer as it is read back. */
export function answerWords(f: Field, value: string, language: string): string {
  if (!value) return ''
  if (f.kind === 'tick') return f.label
  if (f.kind === 'day') return /^\d{4}-\d\d-\d\d$/.test(value) ? dayWords(value, language) : value
  if (f.kind === 'number') {
    const shown = /^-?\d+(\.\d+)?$/.test(value) && language === 'de' ? value.replace('.', ',') : value
    return f.after && f.after.length < 12 ? `${shown} ${f.after}` : shown
  }
  return value
}
