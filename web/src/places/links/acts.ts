import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'

/** What a sender can do with a link, wherever it is shown. */
export function useLinkActs() {
  const { t } = useI18n()
  const { act } = useAct()

  return {
    end: (l: Schemas['Link']) =>
      act(() => api.POST('/links/{id}/end', { params: { path: { id: l.id } } }), { done: t('slip.ended', { name: l.name }), aloud: true }),
    grantOpening: (l: Schemas['Link']) =>
      act(() => api.POST('/links/{id}/openings', { params: { path: { id: l.id } } }), { done: t('slip.granted'), aloud: true }),
    copy: async (l: Schemas['Link']) => {
      if (l.address && (await copyText(l.address))) tell(t('slip.linkCopied', { name: l.name }))
    },
  }
}
