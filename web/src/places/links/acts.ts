import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import { useWallClock } from '../../app/wallclock'
import { useSaid } from '../../sentences/said'

/** What a sender can do with a link, wherever it is shown. */
export function useLinkActs() {
  const { t } = useI18n()
  const said = useSaid()
  const { local, moment, later } = useWallClock()
  const { act } = useAct()

  /** Sets single terms anew. */
  const adjust = (l: Schemas['Link'], body: Schemas['LinkAdjustment']) =>
    data(api.PATCH('/links/{id}/terms', { params: { path: { id: l.id } }, body }))
  /** A week more counts from the link's own end, at the same hour. */
  function weekMore(l: Schemas['Link']) {
    if (!l.until) return
    const [day, clock] = local(new Date(l.until)).split('T')
    const set = (until: string) => ({
      do: () => adjust(l, { until }),
      done: t('links.until', { name: l.name, when: said.when(until) }),
    })
    const more = set(moment(later(day, 7), clock).toISOString())
    void act(more.do, { done: more.done, undo: set(l.until), aloud: true })
  }

  /** Ends links, and can open them again for a while. */
  function endAll(links: Schemas['Link'][], done: string): Promise<boolean> {
    const each = (fn: (path: { id: string }) => Promise<unknown>) => () => Promise.all(links.map((l) => fn({ id: l.id })))
    const undo = {
      do: each((path) => api.POST('/links/{id}/reopening', { params: { path } })),
      done: t('slip.reopened', { n: links.length }, links.length),
    }
    return act(
      each((path) => api.POST('/links/{id}/end', { params: { path } })),
      { done, undo, aloud: true },
    )
  }

  return {
    adjust,
    weekMore,
    end: (l: Schemas['Link']) => endAll([l], t('slip.ended', { name: l.name })),
    endAll,
    grantOpening: (l: Schemas['Link']) =>
      act(() => api.POST('/links/{id}/openings', { params: { path: { id: l.id } } }), { done: t('slip.granted'), aloud: true }),
    copy: async (l: Schemas['Link']) => {
      if (l.address && (await copyText(l.address))) tell(t('slip.linkCopied', { name: l.name }))
    },
  }
}
