import { ref, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'
import type { Thing } from './things'

/**
 * What is about to be moved: chosen rows, a folder, or what was dragged onto one. What is dropped within its dossier where
 * that changes nobody's access is moved at once, and can be moved back; else nothing happens before it is said what it means.
 */
export function useMoving(
  dossier: Ref<Schemas['Dossier'] | undefined>,
  chosen: Ref<Thing[]>,
  here: () => string | undefined,
  begun: () => void,
) {
  const { t } = useI18n()
  const moving = ref<{ items: string[]; names: string[]; to?: string } | null>(null)
  const named = (f: Schemas['Folder']) => `${f.number} ${f.name}`

  const titled = (o: Thing) => (o.kind === 'folder' ? `${o.no} ${o.name}` : o.name)
  function moveThings(things: Thing[]) {
    begun()
    moving.value = { items: things.map((o) => o.id), names: things.map(titled) }
  }
  const { act } = useAct()
  const put = (items: string[], to: string) => api.POST('/items/move', { body: { items, to } })
  /** Moves what changes nothing for anybody, and says whether it did. */
  async function movedAtOnce(folder: string, ids: string[], names: string[], from?: string): Promise<boolean> {
    const to = dossier.value?.folders.find((f) => f.id === folder)
    const folders = dossier.value?.folders.filter((f) => ids.includes(f.id)) ?? []
    const rows = ids.filter((id) => !folders.some((f) => f.id === id))
    // Where each of them lies now.
    const origins = [
      ...(rows.length && from ? [{ items: rows, to: from }] : []),
      ...folders.map((f) => ({ items: [f.id], to: f.parentId ?? '' })),
    ]
    if (!to || origins.some((o) => !o.to)) return false
    const consequence = await data(api.POST('/access/what-if', { body: { move: { items: ids, to: folder } } })).catch(() => undefined)
    if (!consequence || consequence.effects.length || consequence.links) return false
    const what = names.length === 1 ? stemOf(names[0]) : t('move.things', { n: names.length })
    const place = (f?: Schemas['Folder']) => (f?.number ? named(f) : (dossier.value?.name ?? ''))
    return act(() => put(ids, folder), {
      done: t('move.moved', { what, to: place(to) }),
      undo: {
        do: () => Promise.all(origins.map((o) => put(o.items, o.to))),
        done: t('move.moved', { what, to: place(dossier.value?.folders.find((f) => f.id === origins[0].to)) }),
      },
      aloud: true,
    })
  }
  /** Where the sheet says where to, it is known by its name already. */
  async function movedTo(folder: string) {
    const { items, names } = moving.value!
    if (await movedAtOnce(folder, items, names, here())) doneMoving()
  }
  async function movedOnto(folder: string, ids: string[]) {
    const known = chosen.value.filter((c) => ids.includes(c.id))
    const folders = dossier.value?.folders.filter((f) => ids.includes(f.id) && !known.some((c) => c.id === f.id)) ?? []
    const names = [...known.map(titled), ...folders.map(named)]
    const ours = names.length === ids.length
    if (ours && (await movedAtOnce(folder, ids, names, here()))) return doneMoving()
    moving.value = { items: ids, names: ours ? names : ids.map(() => t('move.dragged')), to: folder }
  }
  function doneMoving() {
    moving.value = null
    chosen.value = []
  }
  return { moving, moveThings, movedOnto, movedTo, doneMoving }
}
