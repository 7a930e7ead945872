import { inject, type ComputedRef, type InjectionKey } from 'vue'

/** In which words the parts of a page speak on which something is written: the application has its own, visitors have theirs. */
export interface Voice {
  t: (key: string, values?: Record<string, unknown>, n?: number) => string
  /** A moment, in words. */
  when: (iso: string) => string
  /** A number at the beginning of a sentence. */
  count: (n: number) => string
  /** Several, as a list in a sentence. */
  list: (all: string[]) => string
  /** In which language numbers and days are written (BCP 47). */
  language: ComputedRef<string>
}

export const voiceKey: InjectionKey<Voice> = Symbol('voice')

/** The voice of the page. */
export function useVoice(): Voice {
  const voice = inject(voiceKey)
  if (!voice) throw new Error('the page has no voice')
  return voice
}
