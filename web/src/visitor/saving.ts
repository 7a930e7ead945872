import { opened } from '../sealed/opening'
import type { Wish } from './unsealing'
import worker from './unsealing?worker&url'

/** How a browser can put on the disk what it opens itself: while it comes, into a chosen place, or out of its memory. */
export type Way = 'worker' | 'picker' | 'memory'

interface Picks {
  showSaveFilePicker: (o: { suggestedName: string }) => Promise<{ createWritable: () => Promise<WritableStream<Uint8Array>> }>
}
const picks = (w: unknown): w is Picks => typeof (w as Picks).showSaveFilePicker === 'function'

/** Up to how many bytes a browser holds in its memory reliably. */
export const mostInMemory = 256 * 1024 * 1024

/** The best way that this browser has. */
export const wayHere = (): Way => ('serviceWorker' in navigator ? 'worker' : picks(window) ? 'picker' : 'memory')

/** Saves a sealed file opened. It resolves when the browser has taken it over, or all of it is saved. */
export async function save(wish: Wish, way: Way): Promise<void> {
  if (way === 'worker') return download(wish)
  if (way === 'picker' && picks(window)) {
    const place = await window.showSaveFilePicker({ suggestedName: wish.name })
    // What is not whole is not left there: a file appears when it is closed.
    return opened(wish).pipeTo(await place.createWritable())
  }
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await new Response(opened(wish)).blob())
  link.download = wish.name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}

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
