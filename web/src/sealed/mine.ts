import { shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import type { Schemas } from '../api/client'
import { forget, keptOf, type Kept } from './kept'

/** What this browser knows of a sealed transfer that was sent from it: names, and what opens it. */
export function useKept(transfer: MaybeRefOrGetter<Schemas['Transfer'] | undefined>) {
  // Not observed in its depths: its keys are handed to a worker as they are.
  const kept = shallowRef<Kept>()
  async function look(): Promise<void> {
    const now = toValue(transfer)
    if (!now?.sealed) return
    if (now.destroyedAt) await forget(now.id)
    kept.value = await keptOf(now.id)
  }
  watch(() => [toValue(transfer)?.id, toValue(transfer)?.destroyedAt], look, { immediate: true })
  return { kept, look }
}

/** The link with what opens it, where that is a key: it stands behind the address, and is never sent to a server. */
export const withKey = (address: string, kept?: Pick<Kept, 'identity' | 'passphrase'>): string =>
  kept && !kept.passphrase ? `${address}#${kept.identity}` : address
