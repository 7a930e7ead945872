import { cipherOf, isLast, sealedChunk, sealedSize, type Cipher } from './age'

/** A sealed file that is opened while it comes. */
export interface Sealed {
  url: string
  key: Uint8Array<ArrayBuffer>
  /** How many bytes its header takes, and its content. */
  head: number
  size: number
}

/** Why a file is not opened to its end. */
export class Broken extends Error {
  constructor(readonly why: 'gone' | 'altered') {
    super(why)
  }
}

/** How long, in milliseconds, is waited before a lost connection is tried again, and how long it may bring nothing. */
const pauses = [500, 1000, 2000, 4000, 8000, 15_000]
const patience = 15 * 60_000

/**
 * The content of a sealed file, opened chunk by chunk as it comes, also while it is still arriving. A lost connection is
 * gone on with where it broke off. What was altered, cut or put in another order fails; it never ends as if it were whole.
 */
export function opened(file: Sealed): ReadableStream<Uint8Array> {
  const whole = sealedSize(file.size, file.head)
  const stop = new AbortController()
  let cipher: Cipher | undefined
  let bytes: ReadableStreamDefaultReader<Uint8Array> | undefined
  let chunk = 0
  let held = new Uint8Array(0)
  /** How much of a header is yet to be left out. */
  let skip = 0
  let tries = 0
  let heard = Date.now()

  const placeOf = (n: number) => file.head + n * sealedChunk
  async function connect(): Promise<void> {
    // From its very beginning, so that what is noted as fetched is the whole.
    const from = chunk ? placeOf(chunk) : 0
    const answer = await fetch(file.url, { headers: { Range: `bytes=${from}-` }, signal: stop.signal })
    if ([401, 403, 404, 410].includes(answer.status)) throw new Broken('gone')
    if (!answer.ok || !answer.body) throw new Error('not now')
    const total = Number(answer.headers.get('Content-Range')?.split('/')[1])
    if (answer.status !== 206 || total !== whole) throw new Broken('altered')
    held = new Uint8Array(0)
    skip = placeOf(chunk) - from
    bytes = answer.body.getReader()
  }
  /** Reads on, over lost connections; nothing is read beyond the end. */
  async function read(): Promise<void> {
    for (;;) {
      try {
        if (!bytes) await connect()
        const { value, done } = await bytes!.read()
        if (done) throw new Error('it ended too early')
        const content = value.subarray(skip)
        skip -= value.length - content.length
        const longer = new Uint8Array(held.length + content.length)
        longer.set(held)
        longer.set(content, held.length)
        held = longer
        tries = 0
        heard = Date.now()
        return
      } catch (e) {
        bytes = undefined
        if (e instanceof Broken || stop.signal.aborted || Date.now() - heard > patience) throw e
        await new Promise((later) => setTimeout(later, pauses[Math.min(tries++, pauses.length - 1)]))
      }
    }
  }
  /** Opens the chunks that are here whole. */
  async function open(): Promise<Uint8Array[]> {
    const ready: Promise<Uint8Array>[] = []
    let at = 0
    for (;;) {
      const last = isLast(chunk, file.size)
      const length = last ? whole - placeOf(chunk) : sealedChunk
      if (held.length - at < length) break
      ready.push(cipher!.open(chunk, last, held.slice(at, at + length)))
      at += length
      chunk++
      if (last) break
    }
    held = held.slice(at)
    return Promise.all(ready).catch(() => {
      throw new Broken('altered')
    })
  }

  return new ReadableStream({
    start: async () => void (cipher = await cipherOf(file.key)),
    pull: async (to) => {
      let content: Uint8Array[] = []
      while (!content.length) {
        content = await open()
        if (!content.length) await read()
      }
      for (const one of content) if (one.length) to.enqueue(one)
      if (placeOf(chunk) >= whole) {
        stop.abort()
        to.close()
      }
    },
    cancel: () => stop.abort(),
  })
}
