import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'
import { useTray } from '../../uploads/tray'

type Terms = Omit<Schemas['CheckOut'], 'items'>

/** Takes documents in hand, changes what is said of that, and gives them back. */
export function useCheckout() {
  const { t } = useI18n()
  const doing = useAct()
  const tray = useTray()
  const path = (id: string) => ({ params: { path: { id } } })
  const free = (id: string) => api.DELETE('/documents/{id}/checkout', path(id))
  const takeAll = (items: string[], terms: Terms) => api.POST('/checkouts', { body: { items, ...terms } })

  const take = (ids: string[], what: string) =>
    doing.act(() => takeAll(ids, {}), {
      done: t('checkout.taken', { what: stemOf(what) }),
      undo: { do: () => Promise.all(ids.map(free)), done: t('checkout.free', { what: stemOf(what) }) },
      aloud: true,
    })
  const change = (id: string, held: Schemas['Held'], terms: Terms) =>
    doing.act(() => takeAll([id], { note: held.note || undefined, back: held.back, keeps: held.keeps, ...terms }))
  const giveBack = (id: string, what: string) =>
    doing.act(() => free(id), { done: t('checkout.free', { what: stemOf(what) }), aloud: true })
  /** A version of what is in hand; perhaps the last one, with which it is given back. */
  function store(id: string, what: string, file: File, note: string, last: boolean) {
    tray.revise(id, file, note, last ? () => void giveBack(id, what) : undefined)
  }
  const wait = (id: string) => doing.act(() => api.POST('/documents/{id}/checkout/wait', path(id)), { done: t('checkout.willTell') })
  const ask = (id: string, by: string) =>
    doing.act(() => api.POST('/documents/{id}/checkout/request', path(id)), { done: t('checkout.asked', { by }) })
  const takeBack = (id: string, reason: string, by: string) =>
    doing.act(() => api.POST('/documents/{id}/checkout/break', { ...path(id), body: { reason } }), {
      done: t('checkout.takenBack', { by }),
    })

  return { ...doing, take, change, giveBack, store, wait, ask, takeBack }
}
