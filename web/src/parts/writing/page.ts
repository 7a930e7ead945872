import { useEventListener } from '@vueuse/core'
import { computed, onBeforeUnmount, ref, shallowRef } from 'vue'
import { Refusal, type Schemas } from '../../api/client'
import { Line, type Ears, type Script } from './line'
import { pensOf } from './pens'
import type { Ways } from './ways'

/** An open page of a text or a table: who is there, how it stands with the server, and the line there. */
export function usePage(ways: Ways, me: string, page: string = crypto.randomUUID()) {
  const opening = shallowRef<Schemas['WritingOpening']>()
  const failed = shallowRef<unknown>()
  const people = shallowRef<Schemas['WritingPerson'][]>([])
  const mode = ref<Schemas['WritingMode']>('look')
  const stands = ref<'live' | 'away' | 'ended'>('live')
  const endedBy = ref('')
  const sent = ref(true)
  const refused = ref('')
  const lost = ref('')
  const kept = shallowRef<Schemas['WritingKept']>()
  /** People by who they are: whoever is or was here, proposes something, or wrote what is in doubt. */
  const names = ref<Record<string, string>>({})
  const pens = computed(() => pensOf(people.value, me))
  let line: Line | undefined
  let heard: ((s: Schemas['CallSignalled']) => void) | undefined

  /** Takes over who is here. */
  function come(all: Schemas['WritingPerson'][]) {
    people.value = all
    for (const p of all) names.value[p.id] = p.name
  }
  function know(authors: Schemas['WritingAuthor'][] | undefined) {
    for (const a of authors ?? []) names.value[a.id] = a.name
  }

  /** Asks for what is written, and begins with it. */
  async function open(begin: (m: Schemas['WritingMessage']) => void) {
    failed.value = undefined
    try {
      begin(await ways.open({ page, since: 0 }))
    } catch (e) {
      failed.value = e
      if (!(e instanceof Refusal)) throw e
    }
  }

  /** Goes on over a line: what it tells beyond what every page hears goes to the ears. */
  function goOn(script: Script, ears: Omit<Ears, 'kept' | 'stands' | 'sent' | 'refused'> & Partial<Pick<Ears, 'stands'>>) {
    const all: Ears = {
      kept: (k) => (kept.value = k),
      sent: (all) => (sent.value = all),
      refused: (code) => (refused.value = code),
      signal: (s) => heard?.(s),
      ...ears,
      stands: (s, code) => {
        stands.value = s
        endedBy.value = code ?? ''
        ears.stands?.(s)
      },
    }
    line = new Line(ways, page, script, all)
    line.start()
  }

  useEventListener(window, 'beforeunload', (e) => {
    if (!sent.value && stands.value !== 'ended') e.preventDefault()
  })
  useEventListener(window, 'online', () => line?.send())
  onBeforeUnmount(() => line?.end())

  return {
    me,
    page,
    opening,
    failed,
    people,
    mode,
    stands,
    endedBy,
    sent,
    refused,
    lost,
    kept,
    names,
    pens,
    come,
    know,
    open,
    goOn,
    send: () => line?.send(),
    /** Says something of the call; false where there is no live line. */
    ring: (c: Schemas['CallSent']) => line?.ring(c) ?? false,
    /** What other pages of the call say to this one. */
    hears: (fn: (s: Schemas['CallSignalled']) => void) => (heard = fn),
    tellCaret: () => line?.caret(),
  }
}

export type Page = Omit<ReturnType<typeof usePage>, 'open' | 'goOn'>
