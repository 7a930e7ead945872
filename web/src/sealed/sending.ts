import { base64 } from '@scure/base'
import { generateX25519Identity, identityToRecipient } from 'age-encryption'
import { api, type Schemas } from '../api/client'
import { newStream, sealedSize, type Stream } from './age'
import { keep, keptOf, type Kept } from './kept'
import type { Manifest } from './manifest'
import { useSealer } from './sealer'

/** Files that are about to be sealed, and how each will be. */
export interface Prepared {
  identity: string
  passphrase?: string
  files: File[]
  streams: Stream[]
}

const prepareFor = async (identity: string, files: File[]): Promise<Stream[]> => {
  const recipient = await identityToRecipient(identity)
  return Promise.all(files.map(() => newStream(recipient)))
}

/** Draws the keys of a transfer; nothing of its content is read yet. */
export async function prepare(files: File[], passphrase?: string): Promise<Prepared> {
  const identity = await generateX25519Identity()
  return { identity, passphrase, files, streams: await prepareFor(identity, files) }
}

/** What the server is told of files: how many there are, and how large they will be. */
export const announcedOf = ({ files, streams }: Pick<Prepared, 'files' | 'streams'>): Schemas['AnnouncedFile'][] =>
  files.map((f, i) => ({ name: `${i + 1}.age`, size: sealedSize(f.size, streams[i]!.head.length) }))

const listed = (file: File, { head }: Stream, id: string): Manifest['files'][number] => ({
  id,
  name: file.name,
  size: file.size,
  head: base64.encode(head),
})

/** Keeps what only this browser knows of a transfer that was made, and sends the list of what is in it, sealed. */
export async function begin(p: Prepared, made: Schemas['Transfer'], name: string, message: string): Promise<Kept> {
  const kept: Kept = {
    identity: p.identity,
    passphrase: p.passphrase,
    written: false,
    list: { v: 1, name, message, files: p.files.map((f, i) => listed(f, p.streams[i]!, made.files[i]!.id)) },
    streams: Object.fromEntries(p.files.map((f, i) => [made.files[i]!.id, { ...p.streams[i]!, modified: f.lastModified }])),
  }
  await keep(made.id, kept)
  return kept
}

/** Files that join a sealed transfer: announced by their sizes, named in its list. */
export async function join(
  id: string,
  kept: Kept,
  files: File[],
  announce: (files: Schemas['AnnouncedFile'][]) => Promise<Schemas['TransferFile'][]>,
): Promise<Kept> {
  const streams = await prepareFor(kept.identity, files)
  const added = await announce(announcedOf({ files, streams }))
  const grown: Kept = {
    ...kept,
    written: false,
    list: { ...kept.list, files: [...kept.list.files, ...files.map((f, i) => listed(f, streams[i]!, added[i]!.id))] },
    streams: { ...kept.streams, ...Object.fromEntries(files.map((f, i) => [added[i]!.id, { ...streams[i]!, modified: f.lastModified }])) },
  }
  await keep(id, grown)
  return grown
}

const writing = new Map<string, Promise<void>>()

/** Sends the sealed list of a transfer, where it has not reached the server; a passphrase takes some seconds. */
export function write(id: string): Promise<void> {
  const before = writing.get(id)
  if (before) return before
  const now = writeOnce(id).finally(() => writing.delete(id))
  writing.set(id, now)
  return now
}

async function writeOnce(id: string): Promise<void> {
  const kept = await keptOf(id)
  if (!kept || kept.written) return
  const { identity, passphrase, list } = kept
  const sealed = await useSealer().sealManifest(passphrase ? { ...list, identity } : list, passphrase ? { passphrase } : { identity })
  await api.PUT('/transfers/{id}/manifest', {
    params: { path: { id } },
    body: { content: base64.encode(sealed) },
  })
  const now = await keptOf(id)
  // Files that joined meanwhile are not in it.
  if (now && now.list.files.length === list.files.length) await keep(id, { ...now, written: true })
}

/** Pairs files that are chosen again with those of a sealed transfer that are not here: by name, size and when they were changed last. */
export function pairedSealed(files: File[], transfer: Schemas['Transfer'], kept: Kept) {
  const left = transfer.files.filter((f) => !f.here && kept.streams[f.id])
  return files.flatMap((file) => {
    const at = left.findIndex((f) => {
      const known = kept.list.files.find((l) => l.id === f.id)
      return known?.name === file.name && known.size === file.size && kept.streams[f.id]!.modified === file.lastModified
    })
    if (at < 0) return []
    const announced = left.splice(at, 1)[0]!
    return [{ file, announced, stream: kept.streams[announced.id]! }]
  })
}
