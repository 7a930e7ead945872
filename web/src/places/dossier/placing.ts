import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'

type Folder = Schemas['Folder']

/** Folders are put before or behind those beside them: dragged between two, or by a key, one place up or down. */
export function usePlacing(dossier: () => Schemas['Dossier'] | undefined, arrange: () => boolean) {
  const { t } = useI18n()
  const { act } = useAct()
  const dragged = ref<string>()
  /** Between which lines it would come to stand: above or below one, before a folder or behind them all. */
  const between = ref<{ line: string; after: boolean; before?: string }>()
  const folder = (id?: string) => dossier()?.folders.find((f) => f.id === id)
  const beside = (f: Folder) => dossier()?.folders.filter((o) => o.parentId === f.parentId && o.number) ?? []
  const mayPlace = (f: Folder) => arrange() && (folder(f.parentId)?.may.includes('change') ?? false) && beside(f).length > 1

  const put = (id: string, before?: string) => api.PUT('/folders/{id}/place', { params: { path: { id } }, body: { before } })
  async function place(id: string, before = between.value?.before) {
    const f = folder(id)
    between.value = undefined
    if (!f || !mayPlace(f)) return
    const all = beside(f)
    const next = all[all.indexOf(f) + 1]?.id
    if (before === id || before === next) return
    await act(() => put(id, before), {
      done: t('dossier.placed', { folder: f.name }),
      undo: { do: () => put(id, next), done: t('dossier.placedBack', { folder: f.name }) },
      aloud: true,
    })
  }
  /** One place up or down. */
  async function shift(f: Folder, by: -1 | 1) {
    if (!mayPlace(f)) return
    const all = beside(f)
    const at = all.indexOf(f)
    if (all[at + by]) await place(f.id, all[by < 0 ? at - 1 : at + 2]?.id)
  }
  /** Whether what is dragged is held between two of its own, and not onto one. */
  function hover(over: Folder, e: DragEvent): boolean {
    between.value = undefined
    const f = folder(dragged.value)
    if (!f || over.id === f.id || over.parentId !== f.parentId || !mayPlace(f)) return false
    const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
    const part = (e.clientY - box.top) / box.height
    if (part > 0.3 && part < 0.7) return false
    const all = beside(f)
    const after = part >= 0.7
    between.value = { line: over.id, after, before: after ? all[all.indexOf(over) + 1]?.id : over.id }
    return true
  }
  return { mayPlace, place, shift, dragged, between, hover }
}
