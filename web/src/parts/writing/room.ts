import { computed, ref, watch } from 'vue'
import { decided } from './proposals'
import type { Text } from './text'
import type { Voice } from './voice'

/**
 * What one does around a text, wherever one came from: going along with somebody, and deciding on what is proposed.
 */
export function useRoom(text: Text, t: Voice['t'], told?: (count: number, accepted: boolean) => void) {
  /** In which paragraph everybody is, in words. */
  const places = computed(() =>
    Object.fromEntries(Object.entries(text.paragraphs.value).map(([person, n]) => [person, t('writing.paragraph', { n })])),
  )
  /** Whoever is followed is where one looks, until one writes oneself. */
  const following = ref<string>()
  watch([following, () => text.caretOf(following.value)], ([, head]) => head !== undefined && text.reveal(head))

  const picked = ref<string>()
  /** The proposal at which the caret stands, or the next one. */
  const current = computed(() => {
    const all = text.proposals.value
    const at = text.look.value?.selection.head ?? 0
    return all.find((p) => p.id === picked.value) ?? all.find((p) => p.from <= at && at <= p.to) ?? all[0]
  })
  function decide(ids: string[], accept: boolean) {
    const view = text.view()
    if (!view) return
    view.dispatch(decided(view.state, ids, accept))
    view.focus()
    told?.(ids.length, accept)
  }
  function byKey(e: KeyboardEvent) {
    if (e.key === 'Escape' || (e.key.length === 1 && !e.ctrlKey && (e.target as HTMLElement).isContentEditable)) following.value = undefined
    if (!e.altKey || e.ctrlKey || e.metaKey || text.mode.value !== 'write' || !current.value) return
    if (e.code !== 'KeyA' && e.code !== 'KeyR') return
    e.preventDefault()
    decide([current.value.id], e.code === 'KeyA')
  }
  return { places, following, picked, current, decide, byKey }
}
