import { useI18n } from 'vue-i18n'
import { dayWords, type Language } from '../../i18n/words'
import { useClock } from '../../parts/clock'
import type { Particular } from '../../queries/particulars'

/** What stands in a particular, as people of this language read it. */
export function useValueWords() {
  const { locale } = useI18n()
  const now = useClock()
  const region = () => (locale.value === 'de' ? 'de-DE' : 'en-GB')

  /** Exact, however long: a number is passed on as it is written. */
  const number = (value: string, style?: Intl.NumberFormatOptions) =>
    new Intl.NumberFormat(region(), { maximumFractionDigits: 6, ...style }).format(value as Intl.StringNumericLiteral)

  return {
    words(p: Particular, value: string, person?: string): string {
      switch (p.kind) {
        case 'number':
          return number(value) + (p.unit ? ` ${p.unit}` : '')
        case 'money':
          return number(value, { style: 'currency', currency: p.unit, maximumFractionDigits: undefined })
        case 'date':
          return dayWords(new Date(`${value}T12:00:00Z`), now.value, locale.value as Language, 'UTC')
        case 'person':
          return person ?? ''
        default:
          return value
      }
    },
  }
}
