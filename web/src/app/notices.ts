import { reactive } from 'vue'

interface Notice {
  text: string
  act?: { label: string; do: () => void }
}

/** What happened just now. One at a time; it goes by itself. */
export const notices = reactive<{ current: Notice | null }>({ current: null })

let timer: ReturnType<typeof setTimeout> | undefined

/** Says what happened, with an act that goes with it if there is one. */
export function tell(text: string, act?: Notice['act']): void {
  clearTimeout(timer)
  notices.current = { text, act }
  timer = setTimeout(() => (notices.current = null), act ? 12_000 : 6_000)
}

/** Takes the notice away. */
export function hush(): void {
  clearTimeout(timer)
  notices.current = null
}
