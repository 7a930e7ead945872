import { clear, createStore, del, delMany, get, keys, set } from 'idb-keyval'
import type { Stream } from './age'
import type { Manifest } from './manifest'

/** What only this browser knows of a sealed transfer of its sender's. */
export interface Kept {
  identity: string
  passphrase?: string
  list: Manifest
  /** Whether the list has reached the server. */
  written: boolean
  /** Of each file how it is sealed, and when it was changed last: the same key must never seal other bytes. */
  streams: Record<string, Stream & { modified: number }>
}

const transfers = createStore('tabularis-sealed', 'transfers')
const owners = createStore('tabularis-sealed-owner', 'owner')
const addressKeys = createStore('tabularis-address', 'keys')
const marks = createStore('tabularis-marks', 'marks')

export const keep = (transfer: string, kept: Kept): Promise<void> => set(transfer, kept, transfers)
export const keptOf = (transfer: string): Promise<Kept | undefined> => get<Kept>(transfer, transfers)
export const forget = (transfer: string): Promise<void> => del(transfer, transfers)

/** The key of one's published address, by its public half. */
export const keepKey = (recipient: string, identity: string): Promise<void> => set(recipient, identity, addressKeys)
export const keyOf = (recipient: string): Promise<string | undefined> => get<string>(recipient, addressKeys)

/** What is kept is one person's: another who signs in at this browser finds nothing of it. */
export async function keepFor(person: string): Promise<void> {
  const owner = await get<string>('owner', owners)
  if (owner && owner !== person) await forgetAll()
  if (owner !== person) await set('owner', person, owners)
}

/** Forgets everything: who signs out leaves no keys behind. */
export const forgetAll = (): Promise<unknown> => Promise.all([clear(transfers), clear(marks), clear(addressKeys)])

/** How many chunks of a file have their tags in one mark. */
export const marked = 128

/** The tags of chunks that were handed over to be sent; where there is none of a chunk, its place is empty. */
export const markOf = (file: string, n: number): Promise<Uint8Array | undefined> => get<Uint8Array>(`${file}:${n}`, marks)
export const keepMark = (file: string, n: number, tags: Uint8Array): Promise<void> => set(`${file}:${n}`, tags, marks)

const marksOf = async (file: string): Promise<string[]> => (await keys<string>(marks)).filter((k) => k.startsWith(`${file}:`))
/** Which mark of a file is its last. */
export const lastMark = async (file: string): Promise<number | undefined> =>
  (await marksOf(file)).map((k) => Number(k.split(':')[1])).reduce<number | undefined>((a, b) => Math.max(a ?? 0, b), undefined)
export const forgetMarks = async (file: string): Promise<void> => delMany(await marksOf(file), marks)
