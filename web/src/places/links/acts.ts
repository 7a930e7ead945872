import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAttempt } from '../../app/attempt'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/notices'

/** What a sender can do with a link, wherever it is shown. */
export function useLinkActs() {
  const { t } = useI18n()
  const { attemptAloud } = useAttempt()

  return {
    end: (l: Schemas['Link']) =>
      attemptAloud(() => api.POST('/links/{id}/end', { params: { path: { id: l.id } } }), t('slip.ended', { name: l.name })),
    grantOpening: (l: Schemas['Link']) =>
      attemptAloud(() => api.POST('/links/{id}/openings', { params: { path: { id: l.id } } }), t('slip.granted')),
    copy: async (l: Schemas['Link']) => {
      if (l.address && (await copyText(l.address))) tell(t('slip.linkCopied', { name: l.name }))
    },
  }
}
