import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSession } from '../../app/session'
import { useSaid } from '../../sentences/said'

/** How a run is spoken of, here and wherever it is listed. */
export function useDecisionWords() {
  const { t, te } = useI18n()
  const said = useSaid()
  const store = useSession()
  const days = (n: number) => t('decisions.ask.days', { n }, n)
  const me = () => store.session?.person.id
  /** What is done where a run stands. */
  const doing = (l: Schemas['RunLine']) => l.stops[l.at - 1]?.do ?? 'work'
  /** Whether one can agree at once, without saying anything else. */
  const asksMe = (l: Schemas['RunLine']) => l.waitsFor.some((p) => p.id === me()) && ['approve', 'review', 'work'].includes(doing(l))
  /** Those for whom it waits, with oneself first and as "you". */
  function waitsFor(l: Schemas['RunLine']) {
    const mine = l.waitsFor.filter((p) => p.id === me())
    const others = l.waitsFor.filter((p) => p.id !== me())
    return said.list([
      ...mine.map(() => t('decisions.waitsYou')),
      ...others.map((p) => (p.for ? t('decisions.instead', { name: p.name, for: p.for }) : p.name)),
    ])
  }
  const dueOf = (l: Schemas['RunLine']) => (l.waitsFor.find((p) => p.id === me()) ?? l.waitsFor[0])?.due
  /** Where a run stands, in a few words; among others one is named, too. */
  function stands(l: Schemas['RunLine'], named = false) {
    const stop = l.stops[l.at - 1]
    if (l.endedAt) return `${t(`decisions.trail.end.${l.status}`)} ${said.day(l.endedAt)}`
    if (l.back) return t('decisions.stateBack', { who: l.back.id === me() ? t('decisions.waitsYou') : l.back.name })
    if (l.status === 'held') return t('decisions.stateHeld')
    const due = dueOf(l)
    const late = l.waitsFor.some((p) => p.late)
    const who = !named && l.waitsFor.some((p) => p.id === me()) ? '' : `${waitsFor(l)} · `
    return (
      who +
      t(`decisions.do.${stop?.do ?? 'wait'}`) +
      (due ? `, ${t(late ? 'decisions.late' : 'decisions.due', { when: said.when(due) })}` : '')
    )
  }
  const why = (l: Schemas['RunLine']) => {
    const key = `problem.${l.heldBy}`
    return t(`decisions.heldWhy.${l.held}`, { why: l.heldBy && te(key) ? t(key) : (l.heldBy ?? '') })
  }
  return { days, me, doing, asksMe, waitsFor, dueOf, stands, why }
}
