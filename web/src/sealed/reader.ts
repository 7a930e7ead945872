import { Refusal, type Schemas } from '../api/client'
import type { Guise } from '../uploads/dropped'
import { sealedSize, type Piece, type Stream } from './age'
import { forgetMark, keepMark, markOf } from './kept'
import { useSealer } from './sealer'

/** How many bytes of a sealed file travel at once. */
const pieceSize = 8 * 1024 * 1024

/** A file of one's own that was sealed in part already is another now: its key must not seal it. */
export class Changed extends Refusal {
  constructor() {
    super({ type: '/problems/sealed-changed', title: 'changed', status: 0 })
  }
}

/** A file as it travels sealed: under its number, and in parts that are made when they are asked for. */
export const sealedGuise = ({ id, name }: Schemas['TransferFile'], file: File, stream: Stream): Guise => ({
  name,
  size: sealedSize(file.size, stream.head.length),
  reader: sealedReader(id, stream),
  piece: pieceSize,
})

/** Reads a file sealed; the part after the one that travels is made meanwhile. */
function sealedReader(id: string, stream: Stream): Guise['reader'] {
  const sealer = useSealer()
  return {
    openFile: async (file: File) => {
      const size = sealedSize(file.size, stream.head.length)
      const make = (from: number, to: number) => sealer.piece(file, stream, from, to)
      await check(id, make)
      let ahead: { from: number; to: number; piece: Promise<Piece> } | undefined
      return {
        size,
        slice: async (start, end) => {
          const to = Math.min(end, size)
          const { part, tags } = await (ahead?.from === start && ahead.to === to ? ahead.piece : make(start, to))
          await keepMark(id, { from: start, to, tags })
          const next = Math.min(to + pieceSize, size)
          ahead = next > to ? { from: to, to: next, piece: make(to, next) } : undefined
          // Where it fails it fails when it is asked for.
          ahead?.piece.catch(() => undefined)
          return { value: part, done: to >= size }
        },
        close: () => {
          ahead = undefined
        },
      }
    },
  }
}

/** Refuses a file that would seal otherwise what it has sealed last. */
async function check(id: string, make: (from: number, to: number) => Promise<Piece>): Promise<void> {
  const mark = await markOf(id)
  if (!mark) return
  const { tags } = await make(mark.from, mark.to).catch(() => ({ tags: new Uint8Array() }))
  if (tags.length !== mark.tags.length || tags.some((b, i) => b !== mark.tags[i])) throw new Changed()
}

/** What was noted of a file that has arrived is of no more use. */
export const sealedArrived = (id: string): Promise<void> => forgetMark(id)
