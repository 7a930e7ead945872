import { Decrypter, Encrypter, identityToRecipient } from 'age-encryption'

/** A file as the list names it. */
export interface SealedFile {
  id: string
  name: string
  /** In bytes, before it was sealed. */
  size: number
  /** Its header, in base64: no other file can be given out under this name. */
  head: string
}

/** The list of what is in a sealed transfer. */
export interface Manifest {
  v: 1
  name: string
  message: string
  files: SealedFile[]
  /** What opens the files, where the list itself is opened by a passphrase. */
  identity?: string
}

/** What opens a list. */
export type Opener = { identity: string } | { passphrase: string }

/** Lists grow in steps of so many bytes, so that their size tells little of what they name. */
const step = 4096
/** How much work a guess at a passphrase is, as a power of two. */
const work = 18

/** Seals a list, with the identity inside where it is opened by a passphrase; or for somebody's published key. */
export async function sealManifest(list: Manifest, opener: Opener | { recipient: string }): Promise<Uint8Array> {
  const encrypter = new Encrypter()
  if ('passphrase' in opener) {
    encrypter.setPassphrase(opener.passphrase)
    encrypter.setScryptWorkFactor(work)
  } else encrypter.addRecipient('recipient' in opener ? opener.recipient : await identityToRecipient(opener.identity))
  const content = new TextEncoder().encode(JSON.stringify(list))
  const padded = new Uint8Array(Math.ceil(content.length / step) * step).fill(0x20)
  padded.set(content)
  return encrypter.encrypt(padded)
}

/** A name without what leads out of a folder, controls a terminal, or turns the direction of what is read. */
const soundName = (name: string): string =>
  name
    .replace(/[\u0000-\u001f\u007f-\u009f\u200e\u200f\u2028-\u202e\u2066-\u2069/\\]/g, '_')
    .replace(/^\.+/, '_')
    .slice(0, 255) || '_'

/** A name as a shell reads it, whatever it holds (POSIX Shell Command Language, 2.2.2). */
export const shellWord = (name: string): string => `'${name.replaceAll("'", String.raw`'\''`)}'`

/** Opens a list; throws where it does not open, or is none. */
export async function openManifest(sealed: Uint8Array, opener: Opener): Promise<Manifest> {
  const decrypter = new Decrypter()
  if ('passphrase' in opener) decrypter.addPassphrase(opener.passphrase)
  else decrypter.addIdentity(opener.identity)
  const list = JSON.parse(await decrypter.decrypt(sealed, 'text')) as Manifest
  const isFile = (f: SealedFile) =>
    [f.id, f.name, f.head].every((s) => typeof s === 'string') && Number.isSafeInteger(f.size) && f.size >= 0
  // Whoever wrote the list may mean no good: names are shown, and become names of files and words of a command.
  if (list.v !== 1 || !Array.isArray(list.files) || !list.files.every(isFile)) throw new Error('this is no list of files')
  return {
    ...list,
    name: String(list.name),
    message: String(list.message),
    files: list.files.map((f) => ({ ...f, name: soundName(f.name) })),
  }
}
