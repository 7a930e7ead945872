import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'

/** In milliseconds and CSS pixels: how long a finger rests, and how far it may stray. */
const held = 500
const strays = 10

/**
 * Opens a menu for one of the rows in an area: by right click, by the menu key, and by resting a finger on it, also where a
 * browser sends no event of its own for that. Coordinates are of the window.
 */
export function useMenuAt(area: Ref<HTMLElement | null | undefined>, rows: string, open: (row: HTMLElement, x: number, y: number) => void) {
  let timer: ReturnType<typeof setTimeout> | undefined
  let from = { x: 0, y: 0 }
  let openedAt = -Infinity
  const rowOf = (e: Event) => (e.target instanceof Element ? e.target.closest<HTMLElement>(rows) : null)
  const cancel = () => clearTimeout(timer)

  useEventListener(area, 'pointerdown', (e: PointerEvent) => {
    cancel()
    const row = rowOf(e)
    if (e.pointerType !== 'touch' || !row) return
    from = { x: e.clientX, y: e.clientY }
    timer = setTimeout(() => {
      openedAt = e.timeStamp + held
      open(row, from.x, from.y)
    }, held)
  })
  useEventListener(area, 'pointermove', (e: PointerEvent) => {
    if (Math.hypot(e.clientX - from.x, e.clientY - from.y) > strays) cancel()
  })
  useEventListener(area, ['pointerup', 'pointercancel'], cancel)
  useEventListener(area, 'scroll', cancel, { capture: true, passive: true })
  // What the finger was resting on is not pressed when it is lifted.
  const swallow = (e: MouseEvent) => {
    if (e.timeStamp - openedAt > 2 * held || !rowOf(e)) return
    e.preventDefault()
    e.stopPropagation()
  }
  useEventListener(area, 'click', swallow, { capture: true })
  useEventListener(area, 'contextmenu', (e: MouseEvent) => {
    const row = rowOf(e)
    if (!row) return
    cancel()
    e.preventDefault()
    if (e.timeStamp - openedAt < held) return
    openedAt = (e as PointerEvent).pointerType === 'touch' ? e.timeStamp : -Infinity
    const box = row.getBoundingClientRect()
    // The menu key has no place of its own.
    open(row, e.clientX || box.left + 140, e.clientY || box.bottom)
  })
}
