import { createI18n } from 'vue-i18n'
import en from './en'
import type { Words } from './gather'
import type { Language } from './words'

/** A day that ends in a dot (3. Dez.) needs none at the end of a sentence. */
const oneDot = (text: unknown) => (typeof text === 'string' ? text.replace(/(\p{L})\.\.(?!\.)/gu, '$1.') : text)

export const i18n = createI18n({
  legacy: false,
  locale: 'en',
  fallbackLocale: 'en',
  messages: { en } as { en: Words; de?: Words },
  postTranslation: oneDot as never,
})

const languageChanged = new Set<() => void>()

/** Calls fn when another language was chosen. */
export function onLanguage(fn: () => void): void {
  languageChanged.add(fn)
}

/** Loads and uses a language; English is always there. */
export async function useLanguage(language: Language): Promise<void> {
  if (language === 'de') i18n.global.setLocaleMessage('de', (await import('./de')).default)
  i18n.global.locale.value = language
  document.documentElement.lang = language
  localStorage.setItem('language', language)
  languageChanged.forEach((fn) => fn())
}

/** The language chosen before, or the browser's. */
export function startLanguage(): Language {
  const chosen = localStorage.getItem('language') ?? navigator.language
  return chosen.startsWith('de') ? 'de' : 'en'
}
