import type { Schemas } from '../../api/client'
import { stemOf } from '../../i18n/words'
import type { Recording } from '../../app/player'

/** What lies in a folder and can be chosen there: a document of it, or a folder within it. */
export interface Thing {
  id: string
  kind: 'document' | 'folder'
  /** As people say it: a register number, or the number in the contents. */
  no: string
  name: string
  /** In bytes, and of how many documents. */
  size: number
  documents: number
  version?: number
  /** What it is a recording of. */
  recording?: 'sound' | 'video'
  /** Somebody has it in hand. */
  held?: boolean
  /** My capabilities. */
  may: string[]
}

export const thingOfRow = (r: Schemas['DocumentRow']): Thing => ({
  id: r.id,
  kind: 'document',
  no: String(r.number).padStart(3, '0'),
  name: r.name,
  size: r.size,
  documents: 1,
  version: r.version,
  recording: r.mediaType.startsWith('audio/') ? 'sound' : r.mediaType.startsWith('video/') ? 'video' : undefined,
  held: !!r.held,
  may: r.may,
})

/** A document that is known by itself, wherever it stands in its register. */
export const thingOfDocument = (d: Schemas['Document']): Thing => ({
  id: d.id,
  kind: 'document',
  no: d.ref.slice(d.ref.indexOf('/') + 1),
  name: d.name,
  size: d.versions.find((v) => v.counts)?.size ?? 0,
  documents: 1,
  held: !!d.held,
  may: d.mayDelete ? [...d.may, 'deleteOwn'] : d.may,
})

export const thingOfFolder = (f: Schemas['Folder']): Thing => ({
  id: f.id,
  kind: 'folder',
  no: f.number,
  name: f.name,
  size: f.bytes,
  documents: f.documents,
  may: f.may,
})

/** How many things are given, let others in to or downloaded at once; other acts go on portion by portion. */
export const mostAtOnce = 1000

/** A thing as one speaks of it. */
export const namedOf = (o: Thing) => (o.kind === 'folder' ? `${o.no} ${o.name}` : stemOf(o.name))

/** Recordings that can be listened to one after the other: all of them, or none. */
export const recordingsOf = (things: Thing[]): Recording[] =>
  things.every((o) => o.recording && o.may.includes('download'))
    ? things.map((o) => ({ id: o.id, no: o.no, name: o.name, video: o.recording === 'video' }))
    : []

/** Whether it can be taken elsewhere: documents by whoever may delete their own, folders by whoever may delete. */
export const movable = (t: Thing) => t.may.includes(t.kind === 'folder' ? 'delete' : 'deleteOwn')
