import { computed, ref } from 'vue'
import { dropped, type Brought } from '../../uploads/dropped'
import { useTray } from '../../uploads/tray'
import { dragType } from './dragged'

/** Bringing files into a folder: dropped from outside onto the page, or chosen by the system's dialog. No folder, no bringing. */
export function useBringingIn(folder: () => string | undefined) {
  const tray = useTray()
  const depth = ref(0)
  const bring = (files: Brought[]) => {
    const into = folder()
    if (into) tray.bring(into, files)
  }
  const fromOutside = (e: DragEvent) => (e.dataTransfer?.types.includes('Files') ? 1 : 0)
  const drops = {
    dragenter: (e: DragEvent) => {
      e.preventDefault()
      depth.value += fromOutside(e)
    },
    dragleave: (e: DragEvent) => (depth.value -= fromOutside(e)),
    dragover: (e: DragEvent) => e.preventDefault(),
    drop: async (e: DragEvent) => {
      e.preventDefault()
      depth.value = 0
      if (e.dataTransfer && !e.dataTransfer.types.includes(dragType)) bring(await dropped(e.dataTransfer))
    },
  }
  /** The dialog is the heading's: wherever one asks for it, it opens there. */
  const choose = () => document.querySelector<HTMLInputElement>('.heading input[type=file]')?.click()

  return { bring, drops, over: computed(() => depth.value > 0 && !!folder()), choose }
}
