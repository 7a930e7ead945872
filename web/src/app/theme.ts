import { ref, watch } from 'vue'

export type Theme = 'light' | 'dark'

/** The look of this browser: what was chosen, or what the system asks for. */
export const theme = ref<Theme>('light')

export function startTheme(): void {
  const dark = window.matchMedia('(prefers-color-scheme: dark)')
  const chosen = localStorage.getItem('theme') as Theme | null
  theme.value = chosen ?? (dark.matches ? 'dark' : 'light')
  if (!chosen) dark.addEventListener('change', (e) => (theme.value = e.matches ? 'dark' : 'light'))
  watch(theme, (t) => (document.documentElement.dataset.bsTheme = t), { immediate: true })
}

export function useTheme(t: Theme): void {
  theme.value = t
  localStorage.setItem('theme', t)
}
