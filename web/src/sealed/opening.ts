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
/** How many chunks are opened side by side. */
const ahead = 32

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
  /** Chunks being opened, in order, and who is to be told that one came or was taken. */
  const ready: Promise<Uint8Array>[] = []
  let came: (() => void) | undefined
  let taken: (() => void) | undefined

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
    const began = Date.now()
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
        return
      } catch (e) {
        bytes = undefined
        if (e instanceof Broken || stop.signal.aborted || Date.now() - began > patience) throw e
        await new Promise((later) => setTimeout(later, pauses[Math.min(tries++, pauses.length - 1)]))
      }
    }
  }
  /** Begins to open the chunks that are here whole. */
  function begin(): void {
    let at = 0
    while (placeOf(chunk) < whole) {
      const last = isLast(chunk, file.size)
      const length = last ? whole - placeOf(chunk) : sealedChunk
      if (held.length - at < length) break
      const content = cipher!.open(chunk, last, held.subarray(at, at + length))
      // Where it fails, it fails when its turn comes.
      content.catch(() => undefined)
      ready.push(content)
      at += length
      chunk++
    }
    held = held.slice(at)
  }
  /** Reads and opens ahead of whoever takes the content, but not far. */
  async function fill(): Promise<void> {
    cipher = await cipherOf(file.key)
    while (placeOf(chunk) < whole) {
      await read()
      begin()
      came?.()
      while (ready.length >= ahead) await new Promise<void>((resolve) => (taken = resolve))
    }
    stop.abort()
  }

  let filling: Promise<void> | undefined
  return new ReadableStream(
    {
      pull: async (to) => {
        if (!filling) (filling = fill()).catch(() => undefined)
        while (!ready.length && placeOf(chunk) < whole) await Promise.race([filling, new Promise<void>((resolve) => (came = resolve))])
        const content = await ready.shift()!.catch(() => {
          throw new Broken('altered')
        })
        taken?.()
        if (content.length) to.enqueue(content)
        if (!ready.length && placeOf(chunk) >= whole) to.close()
      },
      cancel: () => stop.abort(),
    },
    { highWaterMark: 4 },
  )
}
