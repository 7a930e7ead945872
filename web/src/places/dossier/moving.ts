import { ref, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'

type Row = Schemas['DocumentRow']

/** What is about to be moved: chosen rows, a folder, or what was dragged onto one. Nothing happens before it is said what it means. */
export function useMoving(dossier: Ref<Schemas['Dossier'] | undefined>, chosen: Ref<Row[]>, begun: () => void) {
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
  function movedOnto(folder: string, ids: string[]) {
    const rows = chosen.value.filter((c) => ids.includes(c.id))
    const folders = dossier.value?.folders.filter((f) => ids.includes(f.id)) ?? []
    const names = [...rows.map((r) => r.name), ...folders.map(named)]
    moving.value = { items: ids, names: names.length === ids.length ? names : ids.map(() => t('move.dragged')), to: folder }
  }
  function doneMoving() {
    moving.value = null
    chosen.value = []
  }
  return { moving, moveRows, moveFolder, movedOnto, doneMoving }
}
