import { api } from '../api/client'

/** How often the page says how long something was looked at, in milliseconds. */
const every = 10_000

/** Says to the sender how long which pages of a document were looked at, as the page in front promises. */
export function useLooking(token: string) {
  let id: string | undefined
  let since = 0
  let timer: number | undefined
  let watched = 0
  const pages = new Set<number>()

  function count() {
    const now = performance.now()
    if (document.visibilityState === 'visible') watched += now - since
    since = now
  }
  function say() {
    if (!id) return
    count()
    const seconds = Math.floor(watched / 1000)
    if (!seconds && !pages.size) return
    watched -= seconds * 1000
    // What is not told is only missing in a record; nobody has to know.
    api
      .POST('/visits/{token}/documents/{id}/looks', {
        params: { path: { token, id } },
        body: { pages: [...pages].sort((a, b) => a - b), seconds },
        keepalive: true,
      })
      .catch(() => undefined)
    pages.clear()
  }
  window.addEventListener('pagehide', say)
  document.addEventListener('visibilitychange', count)
  return {
    begin(document: string) {
      id = document
      since = performance.now()
      watched = 0
      timer = window.setInterval(say, every)
    },
    seen(shown: number[]) {
      for (const n of shown) pages.add(n)
    },
    end() {
      say()
      window.clearInterval(timer)
      id = undefined
    },
  }
}
