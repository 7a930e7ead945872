import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** Addresses as they are typed or pasted, apart by commas, semicolons or lines; a name may stand before one. */
export const addressesIn = (typed: string): string[] =>
  typed
    .split(/[,;\n]+/)
    .map((a) => a.trim())
    .filter((a) => a.includes('@'))

/** A stop on a recipient's way: told, opened, fetched. */
export interface Stop {
  words: string
  done: boolean
  /** It is late: somebody is to be reminded. */
  late?: boolean
  at?: string
}

const day = 86_400_000

/** What became of a transfer for a recipient, as stops on a line. */
export function useStops() {
  const { t } = useI18n()
  const said = useSaid()
  const daysSince = (at: string) => Math.floor((said.now.value.getTime() - new Date(at).getTime()) / day)
  const hasAll = (transfer: Schemas['Transfer'], r: Schemas['TransferRecipient']) => r.fetched >= transfer.files.length

  /** Somebody was told some days ago, and has nothing. */
  const isLate = (transfer: Schemas['Transfer'], r: Schemas['TransferRecipient']) =>
    transfer.state === 'open' && !r.begun && !!r.toldAt && daysSince(r.toldAt) >= transfer.tellAfterDays

  function stops(transfer: Schemas['Transfer'], r: Schemas['TransferRecipient']): Stop[] {
    const told = r.toldAt
    const waits = told ? daysSince(told) : 0
    const fetched: Stop = hasAll(transfer, r)
      ? { words: t('transfers.fetchedAll', { at: said.when(r.fetchedAt!) }), done: true, at: r.fetchedAt }
      : r.fetched
        ? {
            words: t('transfers.fetchedSome', { n: r.fetched, all: transfer.files.length, at: said.when(r.fetchedAt!) }),
            done: true,
            at: r.fetchedAt,
          }
        : r.begun
          ? { words: t('transfers.fetching', { at: said.when(r.begunAt!) }), done: true, at: r.begunAt }
          : {
              words: waits > 0 ? t('transfers.notFetchedFor', { n: waits }, waits) : t('transfers.notFetched'),
              done: false,
              late: isLate(transfer, r),
            }
    return [
      ...(told
        ? [{ words: said.when(told), done: true, at: told }]
        : [{ words: said.when(transfer.createdAt), done: true, at: transfer.createdAt }]),
      { words: r.openedAt ? said.when(r.openedAt) : t('transfers.notOpened'), done: !!r.openedAt, at: r.openedAt },
      fetched,
    ]
  }
  return { stops, hasAll, isLate }
}
