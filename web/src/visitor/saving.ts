import { saveByPage, wayOfPage } from '../sealed/saving'
import type { Wish } from './unsealing'
import worker from './unsealing?worker&url'

/** How a browser can put on the disk what it opens itself: while it comes, or as a page does. */
export type Way = 'worker' | ReturnType<typeof wayOfPage>

/** The best way that this browser has. */
export const wayHere = (): Way => ('serviceWorker' in navigator ? 'worker' : wayOfPage())

/** Saves a sealed file opened. It resolves when the browser has taken it over, or all of it is saved. */
export const save = (wish: Wish, way: Way): Promise<void> => (way === 'worker' ? download(wish) : saveByPage(wish))

/** Lets the browser download by the worker. A link that downloads would go past it to the server; a page within the page does not. */
async function download(wish: Wish): Promise<void> {
  await navigator.serviceWorker.register(worker, { scope: '/l/' })
  const { active } = await navigator.serviceWorker.ready
  const { port1, port2 } = new MessageChannel()
  await new Promise((ready) => {
    port1.onmessage = ready
    active!.postMessage(wish, [port2])
  })
  const frame = document.createElement('iframe')
  frame.hidden = true
  frame.src = `/l/unsealed/${wish.id}`
  document.body.append(frame)
}
