import { Decrypter, Encrypter } from 'age-encryption'
import { chacha20poly1305 } from '@noble/ciphers/chacha.js'
import { hkdf } from '@noble/hashes/hkdf.js'
import { sha256 } from '@noble/hashes/sha2.js'

/*
 * The age v1 format (C2SP age): a header that holds the file key for a recipient, a nonce, and the content in chunks,
 * each sealed for its place; the last says that it is the last. The library writes and reads headers; chunks are made
 * and opened here one by one, so that any part of a sealed file can be made when it is asked for.
 */

/** How many bytes of content a chunk holds, but for the last. */
export const chunkSize = 64 * 1024
/** How many bytes longer a chunk is when it is sealed. */
export const tagSize = 16
/** How many bytes a sealed chunk takes, but for the last. */
export const sealedChunk = chunkSize + tagSize

/** How many bytes a header for one recipient takes with its nonce. */
export const usualHead = 184

/** A file's header with its nonce, and the key of its chunks. */
export interface Stream {
  head: Uint8Array<ArrayBuffer>
  key: Uint8Array<ArrayBuffer>
}

const own = (bytes: Uint8Array): Uint8Array<ArrayBuffer> => new Uint8Array(bytes)
const keyOf = (fileKey: Uint8Array, head: Uint8Array) =>
  own(hkdf(sha256, fileKey, head.slice(-16), new TextEncoder().encode('payload'), 32))

/** Begins a sealed file for a recipient. */
export async function newStream(recipient: string): Promise<Stream> {
  let fileKey = new Uint8Array()
  const encrypter = new Encrypter()
  encrypter.addRecipient(recipient)
  // It adds no stanza: it only looks at the key that the library has drawn.
  encrypter.addRecipient({
    wrapFileKey: (key) => {
      fileKey = own(key)
      return []
    },
  })
  const head = own((await encrypter.encrypt(new Uint8Array(0))).slice(0, -tagSize))
  return { head, key: keyOf(fileKey, head) }
}

/** The key of a file's chunks, for whoever has the identity; throws for everybody else. */
export async function openStream(head: Uint8Array, identity: string): Promise<Uint8Array<ArrayBuffer>> {
  const decrypter = new Decrypter()
  decrypter.addIdentity(identity)
  return keyOf(await decrypter.decryptHeader(head.slice(0, -16)), head)
}

/** Of how many chunks a content of so many bytes is: an empty one has one, too. */
const chunks = (size: number) => Math.max(1, Math.ceil(size / chunkSize))

/** How many bytes a file of so many takes with its header when it is sealed. */
export const sealedSize = (size: number, head: number): number => head + size + tagSize * chunks(size)

/** Whether a chunk is the last of a content of so many bytes. */
export const isLast = (chunk: number, size: number): boolean => chunk === chunks(size) - 1

function nonce(chunk: number, last: boolean): Uint8Array<ArrayBuffer> {
  const bytes = new Uint8Array(12)
  new DataView(bytes.buffer).setUint32(7, chunk)
  bytes[11] = last ? 1 : 0
  return bytes
}

/** Seals chunks and opens them; what was altered, cut or moved does not open. */
export interface Cipher {
  seal: (chunk: number, last: boolean, content: Uint8Array<ArrayBuffer>) => Promise<Uint8Array<ArrayBuffer>>
  open: (chunk: number, last: boolean, sealed: Uint8Array<ArrayBuffer>) => Promise<Uint8Array<ArrayBuffer>>
}

/** The browser's own cipher, which is about three times as fast, or the library's where it has none. */
export async function cipherOf(key: Uint8Array<ArrayBuffer>): Promise<Cipher> {
  const name = 'ChaCha20-Poly1305'
  try {
    const kept = await crypto.subtle.importKey('raw-secret' as 'raw', key, name, false, ['encrypt', 'decrypt'])
    return {
      seal: async (chunk, last, content) => new Uint8Array(await crypto.subtle.encrypt({ name, iv: nonce(chunk, last) }, kept, content)),
      open: async (chunk, last, sealed) => new Uint8Array(await crypto.subtle.decrypt({ name, iv: nonce(chunk, last) }, kept, sealed)),
    }
  } catch {
    return {
      seal: async (chunk, last, content) => own(chacha20poly1305(key, nonce(chunk, last)).encrypt(content)),
      open: async (chunk, last, sealed) => own(chacha20poly1305(key, nonce(chunk, last)).decrypt(sealed)),
    }
  }
}

/** A part of a sealed file, and the tags of the chunks in it, by which they are known again, from which chunk on. */
export interface Piece {
  part: Blob
  first: number
  tags: Uint8Array<ArrayBuffer>
}

/** Makes the bytes of a sealed file from one place up to another. Throws where the file has become shorter. */
export async function sealedPiece(file: Blob, head: Uint8Array<ArrayBuffer>, cipher: Cipher, from: number, to: number): Promise<Piece> {
  const parts: Uint8Array<ArrayBuffer>[] = []
  if (from < head.length) parts.push(head.slice(from, Math.min(to, head.length)))
  const placeOf = (chunk: number) => head.length + chunk * sealedChunk
  const first = Math.floor(Math.max(0, from - head.length) / sealedChunk)
  let end = first
  while (end < chunks(file.size) && placeOf(end) < to) end++
  const content = new Uint8Array(await file.slice(first * chunkSize, end * chunkSize).arrayBuffer())
  const sealed = await Promise.all(
    Array.from({ length: end - first }, (_, i) =>
      cipher.seal(first + i, isLast(first + i, file.size), content.subarray(i * chunkSize, (i + 1) * chunkSize)),
    ),
  )
  const tags = new Uint8Array(sealed.length * tagSize)
  sealed.forEach((chunk, i) => {
    const place = placeOf(first + i)
    tags.set(chunk.subarray(-tagSize), i * tagSize)
    parts.push(chunk.subarray(Math.max(0, from - place), Math.max(0, Math.min(chunk.length, to - place))))
  })
  return { part: new Blob(parts), first, tags }
}
