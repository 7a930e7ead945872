import { computed, ref, watch } from 'vue'
import type { Text } from '../parts/writing/text'
import { useThisVisit } from './visit'
import { say } from './words'
import { problemOf, voice } from './writing'

/** What a visitor is told of what they write: how it stands, and what was refused, until something else happens. */
export function useWritten(open: Pick<Text, 'stands' | 'endedBy' | 'mode' | 'opening' | 'sent' | 'refused' | 'changes' | 'names'>) {
  const { arrive } = useThisVisit()
  const wrong = ref('')
  watch(open.refused, (code) => {
    if (code) wrong.value = problemOf(code) ?? say('offline')
    open.refused.value = ''
  })
  watch(open.changes, () => (wrong.value = ''))
  // Where the link has ended its page says so.
  watch(open.stands, (s) => s === 'ended' && void arrive())
  const state = computed(() => {
    if (open.stands.value === 'ended') return problemOf(open.endedBy.value) ?? say('offline')
    if (wrong.value) return wrong.value
    if (open.stands.value === 'away') return voice.t('writing.away')
    if (open.mode.value === 'look')
      return (open.opening.value?.barred && problemOf(open.opening.value.barred)) || voice.t('writing.looking')
    return voice.t(open.sent.value ? 'writing.allKept' : 'writing.sending')
  })
  const nameOf = (by: string) => open.names.value[by] ?? /^name:(.+)/.exec(by)?.[1] ?? say('writeSomebody')
  return { wrong, state, nameOf }
}
