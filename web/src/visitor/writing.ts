import { computed } from 'vue'
import de from '../i18n/de/writing'
import en from '../i18n/en/writing'
import { momentWords, numberWord } from '../i18n/words'
import type { Voice } from '../parts/writing/voice'
import { filled, language, say } from './words'

const words = () => (language.value === 'de' ? de : en)

/** What a code of a refusal means, where it concerns the text; nothing for others. */
export const problemOf = (code: string): string | undefined => (words().problem as Record<string, string>)[code]

/** The words of writing, as visitors read them: one of several for a number, as the application has them. */
function word(key: string, values?: Record<string, unknown>, n?: number): string {
  const all = { writing: words().writing, common: { discard: say('cancel'), close: say('close') } }
  const found = key.split('.').reduce<unknown>((w, part) => (w as Record<string, unknown> | undefined)?.[part], all)
  const text = typeof found === 'string' ? found : ''
  const several = text.split(' | ')
  return filled(several.length > 1 ? several[n === 1 ? 0 : several.length - 1]! : text, values as Record<string, string | number>)
}

/** How the page of a text speaks to a visitor. */
export const voice: Voice = {
  t: word,
  when: (iso) => momentWords(new Date(iso), new Date(), language.value, Intl.DateTimeFormat().resolvedOptions().timeZone),
  count: (n) => numberWord(n, language.value),
  list: (all) => new Intl.ListFormat(language.value).format(all),
  language: computed(() => (language.value === 'en' ? 'en-GB' : 'de-DE')),
}
