import type { Schemas } from '../../api/client'
import words from '../../i18n/en/events'

type Event = Schemas['Event']

/** A line of the stream: one event, or several that say the same of several documents. */
export type Line = { one: Event } | { kind: Event['kind']; all: Event[] }

/** From so many on they are one line. */
const least = 4
/** Kinds that come in numbers by one act of somebody have words for that. */
const isMany = (kind: string) => kind.replace('.', '_') in words.activity.folded
const same = (a: Event, b: Event) =>
  a.kind === b.kind && a.actor === b.actor && a.dossierCode === b.dossierCode && a.folderId === b.folderId && a.linkName === b.linkName

/** Folds events that follow each other and are alike. */
export function folded(events: Event[]): Line[] {
  const lines: Line[] = []
  for (let i = 0; i < events.length;) {
    let end = i + 1
    while (end < events.length && same(events[i], events[end])) end++
    const run = events.slice(i, end)
    const { kind } = run[0]
    if (run.length >= least && isMany(kind)) lines.push({ kind, all: run })
    else lines.push(...run.map((one) => ({ one })))
    i = end
  }
  return lines
}
