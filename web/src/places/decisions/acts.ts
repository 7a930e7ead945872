import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'
import { pagesSeen } from './seen'

/** What is done with a run. */
export function useRunActs() {
  const { t } = useI18n()
  const { act, busy, wrong } = useAct()
  const at = (id: string) => ({ params: { path: { id } } })

  function decide(l: Schemas['RunLine'], verdict: 'agrees' | 'returns', more: { note?: string; again?: 'start' | 'here' } = {}) {
    return act(
      () =>
        api.POST('/decisions/{id}/decision', {
          ...at(l.id),
          body: { verdict, version: l.version, sha256: l.sha256, seen: pagesSeen(l.itemId, l.version), ...more },
        }),
      {
        done: t(`decisions.done.${verdict}`, { name: stemOf(l.name) }),
        undo: { do: () => api.DELETE('/decisions/{id}/decision', at(l.id)), done: t('decisions.done.took') },
      },
    )
  }
  const takeBack = (id: string) => act(() => api.DELETE('/decisions/{id}/decision', at(id)), { done: t('decisions.done.took') })
  const ask = (id: string, note: string) =>
    act(() => api.POST('/decisions/{id}/question', { ...at(id), body: { note } }), { done: t('decisions.done.asked') })
  const handIn = (l: Schemas['RunLine'], note: string) =>
    act(() => api.POST('/decisions/{id}/hand-in', { ...at(l.id), body: { note } }), {
      done: t('decisions.done.handedIn', { name: stemOf(l.name) }),
    })
  const handOn = (id: string, from: string | undefined, to: { id: string; name: string }, note: string) =>
    act(() => api.POST('/decisions/{id}/hand-on', { ...at(id), body: { from, to: to.id, note } }), {
      done: t('decisions.done.handed', { to: to.name }),
    })
  const repeat = (id: string) => act(() => api.POST('/decisions/{id}/repetition', at(id)), { done: t('decisions.done.repeated') })
  const skip = (id: string, note: string) =>
    act(() => api.POST('/decisions/{id}/skipping', { ...at(id), body: { note } }), { done: t('decisions.done.skipped') })
  const callOff = (id: string, note: string) =>
    act(() => api.POST('/decisions/{id}/end', { ...at(id), body: { note } }), { done: t('decisions.done.off') })
  return { decide, takeBack, ask, handIn, handOn, repeat, skip, callOff, busy, wrong }
}
