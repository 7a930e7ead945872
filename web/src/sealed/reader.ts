import { Refusal, type Schemas } from '../api/client'
import type { Guise } from '../uploads/dropped'
import { sealedChunk, sealedSize, tagSize, type Piece, type Stream } from './age'
import { forgetMarks, keepMark, lastMark, marked, markOf } from './kept'
import { useSealer } from './sealer'

/** How many bytes of a sealed file travel at once. */
const pieceSize = 8 * 1024 * 1024

/** A file of one's own that was sealed in part already is another now: its key must not seal it. */
class Changed extends Refusal {
  constructor() {
    super({ type: '/problems/sealed-changed', title: 'changed', status: 0 })
  }
}

/** A file as it travels sealed: under its number, and in parts that are made when they are asked for. */
export const sealedGuise = ({ id, name }: Pick<Schemas['TransferFile'], 'id' | 'name'>, file: File, stream: Stream): Guise => ({
  name,
  size: sealedSize(file.size, stream.head.length),
  reader: sealedReader(id, stream),
  piece: pieceSize,
  // What was noted of it is of no more use.
  arrived: () => forgetMarks(id),
})

/** Reads a file sealed; the part after the one that travels is made meanwhile. */
function sealedReader(id: string, stream: Stream): Guise['reader'] {
  const sealer = useSealer()
  return {
    openFile: async (file: File) => {
      const size = sealedSize(file.size, stream.head.length)
      const placeOf = (chunk: number) => stream.head.length + chunk * sealedChunk
      const make = (from: number, to: number) => sealer.piece(file, stream, from, to)
      const last = await lastMark(id)
      if (last !== undefined) await remember(id, await make(placeOf(last * marked), Math.min(placeOf((last + 1) * marked), size)))
      let ahead: { from: number; to: number; piece: Promise<Piece> } | undefined
      return {
        size,
        slice: async (start, end) => {
          const to = Math.min(end, size)
          const piece = await (ahead?.from === start && ahead.to === to ? ahead.piece : make(start, to))
          await remember(id, piece)
          const next = Math.min(to + pieceSize, size)
          ahead = next > to ? { from: to, to: next, piece: make(to, next) } : undefined
          // Where it fails it fails when it is asked for.
          ahead?.piece.catch(() => undefined)
          return { value: piece.part, done: to >= size }
        },
        close: () => {
          ahead = undefined
        },
      }
    },
  }
}

/** Notes which chunks are about to be sent, and refuses those that would seal other bytes than they did before. */
async function remember(id: string, { first, tags }: Piece): Promise<void> {
  const end = first + tags.length / tagSize
  for (let n = Math.floor(first / marked); n * marked < end; n++) {
    const known = (await markOf(id, n)) ?? new Uint8Array(marked * tagSize)
    for (let chunk = Math.max(first, n * marked); chunk < Math.min(end, (n + 1) * marked); chunk++) {
      const tag = tags.subarray((chunk - first) * tagSize, (chunk - first + 1) * tagSize)
      const place = (chunk - n * marked) * tagSize
      const before = known.subarray(place, place + tagSize)
      if (before.some((b) => b !== 0) && before.some((b, i) => b !== tag[i])) throw new Changed()
      known.set(tag, place)
    }
    await keepMark(id, n, known)
  }
}
