import { useEventListener } from '@vueuse/core'
import { onBeforeUnmount, onMounted, type Ref } from 'vue'

const reachable =
  'a[href], button:not([disabled]), input:not([disabled]), select:not([disabled]), textarea:not([disabled]), [tabindex]:not([tabindex="-1"])'

/** Focus comes back to where it was when the part is put away. */
export function useFocusReturn(): void {
  const before = document.activeElement
  onBeforeUnmount(() => {
    if (before instanceof HTMLElement && before.isConnected) before.focus()
  })
}

/** What can take focus within an element, in order. */
function stops(within: HTMLElement): HTMLElement[] {
  return [...within.querySelectorAll<HTMLElement>(reachable)].filter((e) => e.offsetParent !== null)
}

/** Keeps focus within what is modal: after its last stop comes its first. It begins at the one marked autofocus, or at the first. */
export function useFocusTrap(root: Ref<HTMLElement | undefined>): void {
  useFocusReturn()
  onMounted(() => {
    const own = root.value
    if (own) (own.querySelector<HTMLElement>('[autofocus]') ?? stops(own)[0] ?? own).focus()
  })
  useEventListener(root, 'keydown', (e: KeyboardEvent) => {
    if (e.key !== 'Tab' || !root.value) return
    const all = stops(root.value)
    const [first, last] = [all[0], all.at(-1)]
    if (!first || !last) return
    const at = document.activeElement
    if (e.shiftKey ? at === first || !root.value.contains(at) : at === last || !root.value.contains(at)) {
      e.preventDefault()
      ;(e.shiftKey ? last : first).focus()
    }
  })
}
