import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { onScopeDispose, watch } from 'vue'
import { refetch, type News } from '../queries/news'
import { useSession } from './session'

/** Reads anew what events concern, as they happen. Missed news are made up for on reconnecting. */
export function useLive(): void {
  const queries = useQueryClient()
  const store = useSession()
  let source: EventSource | undefined
  let pending: ReturnType<typeof setTimeout> | undefined
  let told: News[] = []
  let everything = false

  const refresh = () => void store.refresh().catch(() => undefined)

  /** Several events of one act are one refresh. */
  function soon() {
    clearTimeout(pending)
    pending = setTimeout(() => {
      if (everything) void queries.invalidateQueries()
      else if (refetch(queries, told)) refresh()
      if (everything) refresh()
      told = []
      everything = false
    }, 120)
  }

  function hear(e: MessageEvent<string>) {
    told.push(JSON.parse(e.data) as News)
    soon()
  }

  function allAnew() {
    everything = true
    soon()
  }

  function close() {
    source?.close()
    source = undefined
  }

  function listen() {
    let opened = false
    source = new EventSource('/api/live')
    source.addEventListener('open', () => {
      if (opened) allAnew()
      opened = true
    })
    source.addEventListener('news', hear)
    // Who may see what has changed: what is shown is asked again at once.
    source.addEventListener('access', allAnew)
  }

  watch(
    () => store.session?.person.id,
    (id, before) => {
      close()
      if (!id) return
      // Signed in again over an open page: what failed meanwhile is asked again.
      if (before === undefined) void queries.invalidateQueries()
      listen()
    },
    { immediate: true },
  )
  // A page that the browser puts aside must not hold a connection: there are only a few for one server.
  useEventListener(window, 'pagehide', close)
  useEventListener(window, 'pageshow', (e) => {
    if (!e.persisted || !store.session) return
    listen()
    allAnew()
  })
  onScopeDispose(close)
}
