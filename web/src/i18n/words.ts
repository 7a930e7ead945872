/** Words that are computed: numbers, sizes, moments. Pure functions of a language and a time zone. */

const small = {
  en: ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten', 'Eleven', 'Twelve'],
  de: ['Kein', 'Ein', 'Zwei', 'Drei', 'Vier', 'Fünf', 'Sechs', 'Sieben', 'Acht', 'Neun', 'Zehn', 'Elf', 'Zwölf'],
}

export type Language = 'en' | 'de'

/** A number at the beginning of a sentence: up to twelve in words. */
export function numberWord(n: number, language: Language): string {
  return small[language][n] ?? n.toLocaleString(language)
}

/** A size in decimal units with two or three significant digits: 4.2 MB. */
export function sizeWords(bytes: number, language: Language): string {
  const units = ['B', 'kB', 'MB', 'GB', 'TB']
  let value = bytes
  let unit = 0
  while (value >= 999.5 && unit < units.length - 1) {
    value /= 1000
    unit++
  }
  const digits = unit === 0 || value >= 99.5 ? 0 : value >= 9.95 ? 1 : unit >= 3 ? 2 : 1
  return `${value.toLocaleString(language, { maximumFractionDigits: digits })}\u00a0${units[unit]}`
}

const day = 86_400_000

/** How long something lasted: 40 s, 3 min, 1 h 5 min. */
export function durationWords(seconds: number): string {
  if (seconds < 60) return `${seconds} s`
  const minutes = Math.round(seconds / 60)
  if (minutes < 60) return `${minutes} min`
  return minutes % 60 ? `${Math.floor(minutes / 60)} h ${minutes % 60} min` : `${minutes / 60} h`
}

/** Calendar days from one moment to another in a zone. */
export function daysBetween(from: Date, to: Date, timeZone: string): number {
  const midnight = (d: Date) => {
    const parts = new Intl.DateTimeFormat('en-CA', { timeZone, year: 'numeric', month: '2-digit', day: '2-digit' }).format(d)
    return Date.parse(`${parts}T00:00:00Z`)
  }
  return Math.round((midnight(to) - midnight(from)) / day)
}

const said = {
  en: {
    today: 'today',
    tomorrow: 'tomorrow',
    now: 'just now',
    min: (n: number) => `${n} min ago`,
    inHours: (n: number) => (n === 1 ? 'in 1 hour' : `in ${n} hours`),
    inDays: (n: number) => `in ${n} days`,
    inMin: (n: number) => `in ${n} min`,
  },
  de: {
    today: 'heute',
    tomorrow: 'morgen',
    now: 'gerade eben',
    min: (n: number) => `vor ${n} Min.`,
    inHours: (n: number) => (n === 1 ? 'in 1 Stunde' : `in ${n} Stunden`),
    inDays: (n: number) => `in ${n} Tagen`,
    inMin: (n: number) => `in ${n} Min.`,
  },
}

const clockWords = (at: Date, timeZone: string) => at.toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', timeZone })
const weekdayWords = (at: Date, language: Language, timeZone: string) =>
  at.toLocaleDateString(language, { weekday: 'short', timeZone }).replace('.', '')

/** A moment as a sentence of terms says it: Fri 4 Dec, 18:00. */
export const exactWords = (at: Date, now: Date, language: Language, timeZone: string): string =>
  `${weekdayWords(at, language, timeZone)} ${dayWords(at, now, language, timeZone)}, ${clockWords(at, timeZone)}`

/** A moment in words near now: 12 min ago, today 14:05, Fri 16:20, Thu 19 Nov. */
export function momentWords(at: Date, now: Date, language: Language, timeZone: string): string {
  const s = said[language]
  const minutes = Math.floor((now.getTime() - at.getTime()) / 60_000)
  // Clocks differ a little: what lies a moment ahead has just happened, too.
  if (minutes >= -2 && minutes < 1) return s.now
  if (minutes > 0 && minutes < 60) return s.min(minutes)
  const clock = clockWords(at, timeZone)
  const days = daysBetween(now, at, timeZone)
  if (days === 0) return `${s.today} ${clock}`
  if (days === 1) return `${s.tomorrow} ${clock}`
  const weekday = weekdayWords(at, language, timeZone)
  if (days < 0 && days > -6) return `${weekday} ${clock}`
  return `${weekday} ${dayWords(at, now, language, timeZone)}`
}

/** A day: 4 Dec; with the year when it is another one. */
export function dayWords(at: Date, now: Date, language: Language, timeZone: string): string {
  const year =
    at.toLocaleDateString('en', { year: 'numeric', timeZone }) === now.toLocaleDateString('en', { year: 'numeric', timeZone })
      ? undefined
      : 'numeric'
  return at.toLocaleDateString(language === 'en' ? 'en-GB' : 'de-DE', { day: 'numeric', month: 'short', year, timeZone })
}

/** How far ahead a moment lies: in 7 hours, in 11 days. */
export function aheadWords(at: Date, now: Date, language: Language, timeZone: string): string {
  const s = said[language]
  const minutes = Math.max(1, Math.round((at.getTime() - now.getTime()) / 60_000))
  if (minutes < 60) return s.inMin(minutes)
  if (minutes < 48 * 60) return s.inHours(Math.round(minutes / 60))
  return s.inDays(daysBetween(now, at, timeZone))
}

/** The full moment with its zone, for hovering and for programs that read aloud. */
export function fullMoment(at: Date, language: Language, timeZone: string): string {
  return at.toLocaleString(language === 'en' ? 'en-GB' : 'de-DE', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    timeZoneName: 'short',
    timeZone,
  })
}

/** The extension of a name in small letters, without its dot. */
export function extensionOf(name: string): string {
  const dot = name.lastIndexOf('.')
  return dot > 0 && name.length - dot <= 12 && !name.slice(dot).includes(' ') ? name.slice(dot + 1).toLowerCase() : ''
}

/** A name without its extension. */
export function stemOf(name: string): string {
  const ext = extensionOf(name)
  return ext ? name.slice(0, -ext.length - 1) : name
}
