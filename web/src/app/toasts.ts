import { reactive } from 'vue'

interface Toast {
  text: string
  act?: { label: string; do: () => void }
}

/** What happened just now. One at a time; it goes by itself. */
export const toast = reactive<{ current: Toast | null }>({ current: null })

let timer: ReturnType<typeof setTimeout> | undefined

/** Says what happened, with an act that goes with it if there is one. */
export function tell(text: string, act?: Toast['act']): void {
  clearTimeout(timer)
  toast.current = { text, act }
  timer = setTimeout(() => (toast.current = null), act ? 12_000 : 6_000)
}

/** Takes the toast away. */
export function hush(): void {
  clearTimeout(timer)
  toast.current = null
}
