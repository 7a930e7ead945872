import { base64 } from '@scure/base'
import { computed, ref, shallowRef, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useAddress } from '../../queries/deliveries'
import { openStream } from '../../sealed/age'
import { keepKey, keyOf } from '../../sealed/kept'
import type { Manifest } from '../../sealed/manifest'
import { namedIn } from '../../sealed/naming'
import { openList } from '../../sealed/parcel'
import { mostInMemory, saveByPage, wayOfPage } from '../../sealed/saving'

/** A delivery that was sealed for whoever looks at it: its list is opened here by their key, and files on their way to the disk. */
export function useSealedDelivery(delivery: () => Schemas['Delivery']) {
  const { t } = useI18n()
  const { data: address } = useAddress()
  const identity = ref<string>()
  const list = shallowRef<Manifest>()
  const wrong = ref('')
  const sealed = computed(() => !!delivery().manifest)

  async function open(key: string): Promise<boolean> {
    try {
      list.value = await openList(delivery(), key)
      identity.value = key
    } catch {
      return false
    }
    return true
  }
  watchEffect(async () => {
    const recipient = address.value?.recipient
    const key = sealed.value && !list.value && recipient ? await keyOf(recipient) : undefined
    if (key) await open(key)
  })
  /** Opens by a key that is pasted, also with what stands around it in its file, and keeps it where it is the present one. */
  async function openBy(typed: string): Promise<void> {
    const key = /AGE-SECRET-KEY-1[0-9A-Z]*/i.exec(typed)?.[0].toUpperCase()
    wrong.value = key && (await open(key)) ? '' : t('deliveries.keyWrong')
    if (wrong.value || !key) return
    const { identityToRecipient } = await import('age-encryption')
    await keepKey(await identityToRecipient(key), key)
  }

  const entry = (f: Schemas['DeliveredFile']) => namedIn(list.value?.files, f.name)
  const named = (f: Schemas['DeliveredFile']) => entry(f)?.name ?? f.name
  const tooLarge = (f: Schemas['DeliveredFile']) => wayOfPage() === 'memory' && (entry(f)?.size ?? 0) > mostInMemory
  /** Saves a file opened: from where it waits, or where it was put. */
  async function save(f: Schemas['DeliveredFile']): Promise<void> {
    const file = entry(f)
    if (!file || !identity.value) return
    wrong.value = ''
    try {
      const head = base64.decode(file.head)
      const url = delivery().decidedAt ? `/api/documents/${f.id}/content?download` : `/api/deliveries/${delivery().id}/files/${f.id}`
      await saveByPage({ url, key: await openStream(head, identity.value), head: head.length, size: file.size, name: file.name })
    } catch (e) {
      if ((e as Error).name !== 'AbortError') wrong.value = t('deliveries.saveFailed')
    }
  }
  /** What its files are called where they are accepted: they stay sealed. */
  const names = () => delivery().files.flatMap((f) => (entry(f) ? [{ id: f.id, name: `${named(f)}.age` }] : []))
  return { sealed, list, wrong, openBy, named, tooLarge, save, names }
}
