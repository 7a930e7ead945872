import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import type { Kept } from '../../sealed/kept'
import { withKey } from '../../sealed/mine'
import { useSaid } from '../../sentences/said'

/** What its sender does with a transfer that is out. */
export function useTransferActs() {
  const { t } = useI18n()
  const said = useSaid()
  const { act, busy, wrong } = useAct()
  const path = (id: string) => ({ params: { path: { id } } })

  async function copy(transfer: Schemas['Transfer'], kept?: Kept) {
    if (transfer.address && (await copyText(withKey(transfer.address, kept)))) tell(t('transfers.copied'))
  }
  async function copyOpener(kept: Kept) {
    if (await copyText(kept.passphrase ?? kept.identity)) tell(t(kept.passphrase ? 'transfers.passphraseCopied' : 'transfers.keyCopied'))
  }
  const end = (transfer: Schemas['Transfer']) =>
    act(() => api.POST('/transfers/{id}/end', path(transfer.id)), {
      done: t('transfers.ended', { name: transfer.name }),
      undo: { do: () => api.POST('/transfers/{id}/reopening', path(transfer.id)), done: t('transfers.endedBack', { name: transfer.name }) },
      aloud: true,
    })
  /** A week longer, and back. */
  function prolong(transfer: Schemas['Transfer']) {
    const until = new Date(new Date(transfer.until).getTime() + 7 * 86_400_000).toISOString()
    const set = (to: string) => api.PATCH('/links/{id}/terms', { ...path(transfer.id), body: { until: to } })
    return act(() => set(until), {
      done: t('transfers.longer', { at: said.exact(until) }),
      undo: { do: () => set(transfer.until), done: t('transfers.longer', { at: said.exact(transfer.until) }) },
      aloud: true,
    })
  }
  const leaveOut = (transfer: Schemas['Transfer'], file: Schemas['TransferFile']) =>
    act(() => api.DELETE('/transfers/{id}/files/{file}', { params: { path: { id: transfer.id, file: file.id } } }), {
      done: t('transfers.left', { name: file.name }),
      aloud: true,
    })
  return { copy, copyOpener, end, prolong, leaveOut, act, busy, wrong }
}
