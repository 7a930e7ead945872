import { base64 } from '@scure/base'
import type { Schemas } from '../api/client'
import type { Brought } from '../uploads/dropped'
import { newStream } from './age'
import type { Manifest, SealedFile } from './manifest'
import { travellingName } from './naming'
import { sealedGuise } from './reader'
import { useSealer } from './sealer'

/** What is sealed for somebody's published key before it leaves: files under names that say nothing, and what they are called. */
export interface Wrapped {
  brought: Brought
  named: SealedFile
}

/** Wraps a file: it travels under a number of its own, drawn anew each time, as its key is. */
export async function wrap({ file }: Brought, recipient: string): Promise<Wrapped> {
  const stream = await newStream(recipient)
  const id = crypto.randomUUID()
  return {
    brought: { file, path: '', guise: sealedGuise({ id, name: travellingName(id) }, file, stream) },
    named: { id, name: file.name, size: file.size, head: base64.encode(stream.head) },
  }
}

/** The sealed list of what is sent, in base64. */
export async function sealList(files: SealedFile[], message: string, recipient: string): Promise<string> {
  return base64.encode(await useSealer().sealManifest({ v: 1, name: '', message, files }, { recipient }))
}

/** Opens the list of a delivery; throws where the key does not open it. */
export const openList = (delivery: Schemas['Delivery'], identity: string): Promise<Manifest> =>
  useSealer().openManifest(base64.decode(delivery.manifest ?? ''), { identity })
