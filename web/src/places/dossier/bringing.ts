import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { dropped, type Brought } from '../../uploads/dropped'
import { useTray } from '../../uploads/tray'
import { dragType } from './dragged'

/** A single file that was dropped onto a document of the register. */
export interface OnRow {
  id: string
  ref: string
  brought: Brought
}

/** The document onto which something is held or dropped. */
const rowAt = (e: DragEvent) => (e.target instanceof Element ? e.target.closest<HTMLElement>('tr[data-ref][data-thing]') : null)

const toldKey = (folder: string) => `told-${folder}`

/**
 * Bringing files into a folder: dropped from outside onto the page, or chosen by the system's dialog. No folder, no bringing.
 * Where others outside can open it, that is said before anything travels, once for each place.
 */
export function useBringingIn(folder: () => Schemas['Folder'] | undefined) {
  const tray = useTray()
  const depth = ref(0)
  /** What waits until it has been said who will be able to open it. */
  const asked = ref<{ folder: string; files: Brought[] }>()
  /** It is asked whether what was dropped onto a document is a version of it. */
  const onRow = ref<OnRow>()
  const overRow = ref<string>()
  const bring = (files: Brought[]) => {
    const into = folder()
    if (!into || !files.length) return
    const outside = into.door.state !== 'closed' || into.links > 0
    if (outside && !localStorage.getItem(toldKey(into.id))) asked.value = { folder: into.id, files }
    else tray.bring(into.id, files)
  }
  function told() {
    if (!asked.value) return
    localStorage.setItem(toldKey(asked.value.folder), 'yes')
    tray.bring(asked.value.folder, asked.value.files)
    asked.value = undefined
  }
  const fromOutside = (e: DragEvent) => (e.dataTransfer?.types.includes('Files') ? 1 : 0)
  const drops = {
    dragenter: (e: DragEvent) => {
      e.preventDefault()
      depth.value += fromOutside(e)
    },
    dragleave: (e: DragEvent) => (depth.value -= fromOutside(e)),
    dragover: (e: DragEvent) => {
      e.preventDefault()
      overRow.value = fromOutside(e) ? rowAt(e)?.dataset.ref : undefined
    },
    drop: async (e: DragEvent) => {
      e.preventDefault()
      depth.value = 0
      if (!e.dataTransfer || e.dataTransfer.types.includes(dragType)) return
      const { thing: id, ref: number } = rowAt(e)?.dataset ?? {}
      const files = await dropped(e.dataTransfer)
      const [only] = files
      if (only && files.length === 1 && !only.path && id && number) onRow.value = { id, ref: number, brought: only }
      else bring(files)
    },
  }
  /** The dialog is the heading's: wherever one asks for it, it opens there. */
  const choose = () => document.querySelector<HTMLInputElement>('.heading input[type=file]')?.click()

  /** It is a document of its own after all. */
  function apart() {
    const files = onRow.value ? [onRow.value.brought] : []
    onRow.value = undefined
    bring(files)
  }

  return { bring, asked, told, onRow, overRow, apart, drops, over: computed(() => depth.value > 0 && !!folder()), choose }
}
