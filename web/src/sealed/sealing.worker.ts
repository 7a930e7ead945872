import { expose } from 'comlink'
import { cipherOf, sealedPiece, type Cipher, type Stream } from './age'
import { openManifest, sealManifest } from './manifest'

/** Imported keys, by their bytes: each is needed for every piece of its file. */
const ciphers = new Map<string, Promise<Cipher>>()
function cipher(key: Stream['key']): Promise<Cipher> {
  const name = key.join()
  let known = ciphers.get(name)
  if (!known) ciphers.set(name, (known = cipherOf(key)))
  return known
}

/** What takes long, beside the page: sealing, and trying a passphrase. */
const sealer = {
  piece: async (file: Blob, { head, key }: Stream, from: number, to: number) => sealedPiece(file, head, await cipher(key), from, to),
  sealManifest,
  openManifest,
}
export type Sealer = typeof sealer
expose(sealer)
