import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'

/** What one does with what came from outside. */
export function useDeliveryActs() {
  const { t } = useI18n()
  const { act, busy, wrong } = useAct()
  const path = (d: Schemas['Delivery']) => ({ params: { path: { id: d.id } } })
  /** Puts it into a folder; of what is sealed the names are known here alone. */
  const accept = (d: Schemas['Delivery'], to: string, place: string, names?: { id: string; name: string }[]) =>
    act(() => api.POST('/deliveries/{id}/acceptance', { ...path(d), body: { to, names } }), {
      done: t('deliveries.accepted', { n: d.files.length, to: place }, d.files.length),
      aloud: true,
    })
  const refuse = (d: Schemas['Delivery']) =>
    act(() => api.POST('/deliveries/{id}/refusal', path(d)), { done: t('deliveries.refused', { name: d.name }), aloud: true })
  return { accept, refuse, busy, wrong }
}
