import { useClock } from '../parts/clock'
import { useI18n } from 'vue-i18n'
import { Refusal, type Schemas } from '../api/client'
import {
  aheadWords,
  dayWords,
  durationWords,
  exactWords,
  fullMoment,
  momentWords,
  numberWord,
  sizeWords,
  type Language,
} from '../i18n/words'
import { useSession } from '../app/session'

/** The computed words in the language and zone of this page; they follow the time. */
export function useSaid() {
  const { locale, t, te } = useI18n()
  const store = useSession()
  const now = useClock()
  const language = () => locale.value as Language
  function meaning(code: string, seconds = 1, helper = ''): string {
    const key = `problem.${code}`
    return te(key) || te(key, 'en') ? t(key, { seconds, helper }) : t('problem.internal', { helper: '' })
  }

  return {
    now,
    size: (bytes: number) => sizeWords(bytes, language()),
    when: (at: string) => momentWords(new Date(at), now.value, language(), store.timezone),
    day: (at: string | Date) => dayWords(new Date(at), now.value, language(), store.timezone),
    ahead: (at: string) => aheadWords(new Date(at), now.value, language(), store.timezone),
    duration: durationWords,
    full: (at: string) => fullMoment(new Date(at), language(), store.timezone),
    /** A moment as a sentence of terms says it. */
    exact: (at: string) => exactWords(new Date(at), now.value, language(), store.timezone),
    /** One, two and three. */
    list: (all: string[]) => (all.length > 1 ? `${all.slice(0, -1).join(', ')} ${t('access.and')} ${all.at(-1)}` : (all[0] ?? '')),
    /** A number as it is written in the language. */
    number: (n: number, digits = 2) => new Intl.NumberFormat(language(), { maximumFractionDigits: digits }).format(n),
    count: (n: number) => numberWord(n, language()),
    /** What a code of a refusal means, where it came without one. */
    code: (code: string): string => meaning(code),
    /** What a refusal means, in words. */
    problem: (e: unknown): string => {
      const refusal = e instanceof Refusal ? e : new Refusal({ type: '/problems/internal', title: 'internal', status: 0 })
      return meaning(refusal.code, refusal.problem.retryAfter ?? 1, store.practice?.helper.split(',')[0] ?? '')
    },
    /** The first name of somebody, or "somebody". */
    first: (e: Schemas['Event']) => (e.actor ? e.actor.split(' ')[0] : t('common.somebody')),
  }
}
