import { useQueryClient } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/notices'
import { useSaid } from '../../app/said'

/** What a sender can do with a link, wherever it is shown. */
export function useLinkActs() {
  const { t } = useI18n()
  const said = useSaid()
  const queries = useQueryClient()

  async function run(act: () => Promise<unknown>, done: string) {
    try {
      await act()
      tell(done)
    } catch (e) {
      tell(said.problem(e))
    }
    await queries.invalidateQueries()
  }

  return {
    end: (l: Schemas['Link']) => run(() => api.POST('/links/{id}/end', { params: { path: { id: l.id } } }), t('slip.ended', { name: l.name })),
    grantOpening: (l: Schemas['Link']) => run(() => api.POST('/links/{id}/openings', { params: { path: { id: l.id } } }), t('slip.granted')),
    copy: async (l: Schemas['Link']) => {
      if (l.address && (await copyText(l.address))) tell(t('slip.linkCopied', { name: l.name }))
    },
  }
}
