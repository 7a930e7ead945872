import { ref, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'

type Row = Schemas['DocumentRow']

/**
 * What is about to be moved: chosen rows, a folder, or what was dragged onto one. What is dropped within its dossier where
 * that changes nobody's access is moved at once, and can be moved back; else nothing happens before it is said what it means.
 */
export function useMoving(
  dossier: Ref<Schemas['Dossier'] | undefined>,
  chosen: Ref<Row[]>,
  here: () => string | undefined,
  begun: () => void,
) {
  const { t } = useI18n()
  const moving = ref<{ items: string[]; names: string[]; to?: string } | null>(null)
  const named = (f: Schemas['Folder']) => `${f.number} ${f.name}`

  function moveRows(rows: Row[]) {
    begun()
    chosen.value = rows
    moving.value = { items: rows.map((r) => r.id), names: rows.map((r) => r.name) }
  }
  function moveFolder(id: string) {
    const f = dossier.value?.folders.find((x) => x.id === id)
    if (f) moving.value = { items: [f.id], names: [named(f)] }
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
    const back = () =>
      void act(() => Promise.all(origins.map((o) => put(o.items, o.to))), {
        done: t('move.moved', { what, to: place(dossier.value?.folders.find((f) => f.id === origins[0].to)) }),
        aloud: true,
      })
    return act(() => put(ids, folder), {
      done: t('move.moved', { what, to: place(to) }),
      undo: { label: t('common.undo'), do: back },
      aloud: true,
    })
  }
  async function movedOnto(folder: string, ids: string[]) {
    const rows = chosen.value.filter((c) => ids.includes(c.id))
    const folders = dossier.value?.folders.filter((f) => ids.includes(f.id)) ?? []
    const names = [...rows.map((r) => r.name), ...folders.map(named)]
    const ours = names.length === ids.length
    if (ours && (await movedAtOnce(folder, ids, names, here()))) return doneMoving()
    moving.value = { items: ids, names: ours ? names : ids.map(() => t('move.dragged')), to: folder }
  }
  function doneMoving() {
    moving.value = null
    chosen.value = []
  }
  return { moving, moveRows, moveFolder, movedOnto, doneMoving }
}
