import { useSession } from './session'

/** Moments as a clock on the practice's wall shows them, in the form of a field for date and time: 2026-12-04T18:00. */
export function useWallClock() {
  const store = useSession()

  function local(at: Date): string {
    return new Intl.DateTimeFormat('sv-SE', { timeZone: store.timezone, dateStyle: 'short', timeStyle: 'short' })
      .format(at)
      .replace(' ', 'T')
  }
  /** The moment at which the clock shows a day and a time. */
  function moment(day: string, clock: string): Date {
    const guess = new Date(`${day}T${clock}:00Z`)
    const shown = new Date(`${local(guess)}:00Z`)
    return new Date(guess.getTime() - (shown.getTime() - guess.getTime()))
  }
  /** The day so many days after another. */
  const later = (day: string, n: number) => new Date(Date.parse(`${day}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10)
  /** The end of business so many days ahead. */
  const inDays = (n: number, now: Date) => moment(later(local(now).slice(0, 10), n), '18:00').toISOString()
  return { local, moment, later, inDays }
}
