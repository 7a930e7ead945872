import type { Upload } from 'tus-js-client'

/** How a file travels that does not travel as it is. */
export interface Guise {
  /** What is told of it. */
  name: string
  size: number
  reader: NonNullable<Upload['options']['fileReader']>
  /** How many bytes are sent at once. */
  piece: number
  /** What follows when all of it has arrived. */
  arrived: () => Promise<void>
}

/** A file to bring in, with the folders above it. */
export interface Brought {
  file: File
  /** Slash-separated folders below the place it is brought to; empty for none. */
  path: string
  guise?: Guise
}

function readAll(reader: FileSystemDirectoryReader): Promise<FileSystemEntry[]> {
  return new Promise((resolve, reject) => {
    const all: FileSystemEntry[] = []
    // Browsers give a folder's entries in portions until an empty one.
    const next = () =>
      reader.readEntries((some) => {
        if (!some.length) return resolve(all)
        all.push(...some)
        next()
      }, reject)
    next()
  })
}

async function walk(entry: FileSystemEntry, path: string, into: Brought[]): Promise<void> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject))
    into.push({ file, path })
    return
  }
  const below = path ? `${path}/${entry.name}` : entry.name
  for (const e of await readAll((entry as FileSystemDirectoryEntry).createReader())) await walk(e, below, into)
}

/** What was dropped, whole folder trees included. */
export async function dropped(transfer: DataTransfer): Promise<Brought[]> {
  // The list is emptied after the event, so entries are taken at once.
  const entries = [...transfer.items].map((i) => i.webkitGetAsEntry?.()).filter((e) => e !== null && e !== undefined)
  if (!entries.length) return [...transfer.files].map((file) => ({ file, path: '' }))
  const all: Brought[] = []
  for (const e of entries) await walk(e, '', all)
  return all
}

/** What was chosen by a button; a chosen folder comes with its tree. */
export function chosen(files: FileList): Brought[] {
  return [...files].map((file) => ({ file, path: file.webkitRelativePath.split('/').slice(0, -1).join('/') }))
}
