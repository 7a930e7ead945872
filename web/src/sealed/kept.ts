import { clear, createStore, del, get, set } from 'idb-keyval'
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
const marks = createStore('tabularis-marks', 'marks')

export const keep = (transfer: string, kept: Kept): Promise<void> => set(transfer, kept, transfers)
export const keptOf = (transfer: string): Promise<Kept | undefined> => get<Kept>(transfer, transfers)
export const forget = (transfer: string): Promise<void> => del(transfer, transfers)

/** What is kept is one person's: another who signs in at this browser finds nothing of it. */
export async function keepFor(person: string): Promise<void> {
  const owner = await get<string>('owner', owners)
  if (owner && owner !== person) await forgetAll()
  if (owner !== person) await set('owner', person, owners)
}

/** Forgets everything: who signs out leaves no keys behind. */
export const forgetAll = (): Promise<unknown> => Promise.all([clear(transfers), clear(marks)])

/** The last piece of a file that was handed over to be sent. */
export interface Mark {
  from: number
  to: number
  tags: Uint8Array
}
export const keepMark = (file: string, mark: Mark): Promise<void> => set(file, mark, marks)
export const markOf = (file: string): Promise<Mark | undefined> => get<Mark>(file, marks)
export const forgetMark = (file: string): Promise<void> => del(file, marks)
