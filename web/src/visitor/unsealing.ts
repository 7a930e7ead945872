import { opened, type Sealed } from '../sealed/opening'

/*
 * The service worker that stands between a sealed file and the disk: the page hands over the key of one file, then the
 * browser downloads from an address that only this worker knows, and what it gets is opened chunk by chunk.
 */

/** What the page asks for. */
export interface Wish extends Sealed {
  id: string
  name: string
}
interface Waits {
  waitUntil: (done: Promise<unknown>) => void
}
interface Asked extends Event {
  request: Request
  respondWith: (answer: Response) => void
}
const worker = self as unknown as EventTarget & { skipWaiting: () => Promise<void>; clients: { claim: () => Promise<void> } }
const waiting = new Map<string, Wish>()

worker.addEventListener('install', () => void worker.skipWaiting())
worker.addEventListener('activate', (e) => (e as unknown as Waits).waitUntil(worker.clients.claim()))
worker.addEventListener('message', (e) => {
  const { data, ports } = e as MessageEvent<Wish>
  waiting.set(data.id, data)
  ports[0]?.postMessage('ready')
})
worker.addEventListener('fetch', (e) => {
  const asked = e as unknown as Asked
  const id = /^\/l\/unsealed\/([\w-]+)$/.exec(new URL(asked.request.url).pathname)?.[1]
  if (!id) return
  const wish = waiting.get(id)
  waiting.delete(id)
  asked.respondWith(wish ? answer(wish) : new Response(null, { status: 404 }))
})

const answer = (wish: Wish) =>
  new Response(opened(wish), {
    headers: {
      'Content-Type': 'application/octet-stream',
      'Content-Length': String(wish.size),
      'Content-Disposition': `attachment; filename*=UTF-8''${encodeURIComponent(wish.name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`,
      'Content-Security-Policy': "default-src 'none'; sandbox",
      'X-Content-Type-Options': 'nosniff',
    },
  })
