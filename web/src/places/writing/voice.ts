import { provide } from 'vue'
import { useI18n } from 'vue-i18n'
import { voiceKey } from '../../parts/writing/voice'
import { useSaid } from '../../sentences/said'

/** Lets the parts of this page speak as the application does. */
export function useVoiceHere() {
  const { t } = useI18n()
  const said = useSaid()
  provide(voiceKey, {
    t: (key, values, n) => (n === undefined ? t(key, values ?? {}) : t(key, values ?? {}, n)),
    when: said.when,
    count: said.count,
  })
}
