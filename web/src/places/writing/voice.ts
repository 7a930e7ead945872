import { computed, provide } from 'vue'
import { useI18n } from 'vue-i18n'
import { voiceKey, type Voice } from '../../parts/writing/voice'
import { useSaid } from '../../sentences/said'

/** Lets the parts of this page speak as the application does. */
export function useVoiceHere(): Voice {
  const { t, locale } = useI18n()
  const said = useSaid()
  const voice: Voice = {
    t: (key, values, n) => (n === undefined ? t(key, values ?? {}) : t(key, values ?? {}, n)),
    when: said.when,
    count: said.count,
    list: said.list,
    language: computed(() => (locale.value === 'en' ? 'en-GB' : 'de-DE')),
  }
  provide(voiceKey, voice)
  return voice
}
