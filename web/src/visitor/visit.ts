import { computed, inject, onBeforeUnmount, ref, watch, type InjectionKey } from 'vue'
import { api, data, Refusal, type Schemas } from '../api/client'
import type { Manifest } from '../sealed/manifest'
import type { Language } from '../i18n/words'
import { language, say } from './words'

/** Whether one brings something by a link of a kind: asked for, or to somebody's published address. */
export const takesIn = (kind?: Schemas['LinkKind']) => kind === 'intake' || kind === 'address'
/** Whether one has something to do there, rather than something to read. */
export const begins = (kind?: Schemas['LinkKind']) => takesIn(kind) || kind === 'fill'

/** A visit to a link: what stands in front, what it gives in a folder or takes in once one is let in, and its end. */
export function useVisit(token: string, folder: () => string | undefined) {
  const path = { token }
  const front = ref<Schemas['LinkFront']>()
  const given = ref<Schemas['LinkContents']>()
  /** What the link takes in, where it gives nothing out. */
  const taking = ref<Schemas['VisitIntake']>()
  /** What a transfer gives, with what is still arriving. */
  const sent = ref<Schemas['VisitedTransfer']>()
  /** A form that is filled in. */
  const filling = ref<Schemas['Filling']>()
  /** The list of a sealed transfer, once it was opened here. */
  const list = ref<Manifest>()
  const letter = computed(() => given.value ?? taking.value ?? sent.value ?? formLetter.value)
  const formLetter = computed(() => {
    const f = filling.value
    return f?.letter && { ...f.letter, name: f.title || f.name }
  })
  const state = ref<'loading' | 'front' | 'open' | 'gone' | 'offline'>('loading')
  const wrong = ref('')
  let live: EventSource | undefined

  function gone() {
    state.value = 'gone'
    front.value = given.value = taking.value = sent.value = filling.value = list.value = undefined
    document.title = say('gone')
    live?.close()
  }

  const said: Record<string, (e: Refusal) => string> = {
    'wrong-password': () => say('wrong'),
    'wrong-code': () => say('wrongCode'),
    'address-not-allowed': () => say('notMeant'),
    'address-form': () => say('noAddress'),
    'too-many-tries': (e) => say('slow', { seconds: e.problem.retryAfter ?? 1 }),
  }
  /** Says what was refused: in words, by the front, or by the end of the page. */
  function failed(e: unknown) {
    const why = e instanceof Refusal ? e.code : 'offline'
    if (why === 'link-over') gone()
    else if (why === 'needs-opening') void arrive()
    else if (e instanceof Refusal && said[why]) wrong.value = said[why](e)
    else if (state.value === 'loading') state.value = 'offline'
    else wrong.value = say('offline')
  }
  /** Runs an act of the visitor; what is refused is said. */
  async function trying(fn: () => Promise<void>) {
    wrong.value = ''
    try {
      await fn()
    } catch (e) {
      failed(e)
    }
  }

  const arrive = () =>
    trying(async () => {
      front.value = await data(api.GET('/visits/{token}', { params: { path } }))
      speak((localStorage.getItem('language') ?? front.value.language ?? 'en') as Language)
      document.title = front.value.practice
      if (front.value.open) await enter()
      else state.value = 'front'
    })

  /** Somebody asked for everything while they came in; whoever shows what is there begins to fetch it, once. */
  let fetches = false
  const takesFetching = () => {
    const now = fetches
    fetches = false
    return now
  }
  const open = (claim: Schemas['OpenLink'], fetch = false) =>
    trying(async () => {
      await api.POST('/visits/{token}', { params: { path }, body: claim })
      fetches = fetch
      await enter()
    })

  /** Looks at what is given in a folder, or asked for; nothing before one is let in. */
  const enter = () =>
    trying(async () => {
      if (!front.value) return
      if (takesIn(front.value.kind)) taking.value = await data(api.GET('/visits/{token}/intake', { params: { path } }))
      else if (front.value.kind === 'fill') filling.value = await data(api.GET('/to-fill/{token}', { params: { path } }))
      else if (front.value.kind === 'transfer') sent.value = await data(api.GET('/visits/{token}/transfer', { params: { path } }))
      else given.value = await data(api.GET('/visits/{token}/contents', { params: { path, query: { folder: folder() } } }))
      state.value = 'open'
      document.title = `${list.value?.name ?? letter.value?.name}, ${front.value.practice}`
      watchEnd()
    })

  /** The page goes dead when the sender ends the link or its time is up. */
  function watchEnd() {
    if (live) return
    live = new EventSource(`/api/visits/${token}/live`)
    live.addEventListener('over', gone)
    live.addEventListener('error', () => {
      if (live?.readyState !== EventSource.CLOSED) return
      // Refused for good: ask what stands in front now.
      live = undefined
      api.GET('/visits/{token}', { params: { path } }).catch(failed)
    })
  }

  function speak(l: Language, keep = false) {
    language.value = l
    document.documentElement.lang = l
    if (keep) localStorage.setItem('language', l)
  }

  watch(folder, () => state.value === 'open' && void enter())
  void arrive()
  // A page that the browser puts aside must not hold a connection, and looks again when it is brought back.
  window.addEventListener('pagehide', () => live?.close())
  window.addEventListener('pageshow', (e) => {
    if (e.persisted) location.reload()
  })
  onBeforeUnmount(() => live?.close())

  return {
    token,
    base: `/api/visits/${token}`,
    front,
    given,
    taking,
    sent,
    filling,
    list,
    letter,
    state,
    wrong,
    arrive,
    open,
    takesFetching,
    enter,
    failed,
    trying,
    speak,
  }
}

export type Visit = ReturnType<typeof useVisit>
export const visitKey: InjectionKey<Visit> = Symbol('visit')

/** The visit that the page shows. */
export function useThisVisit(): Visit {
  const visit = inject(visitKey)
  if (!visit) throw new Error('not within a visit')
  return visit
}
