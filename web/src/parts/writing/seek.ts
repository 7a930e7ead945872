import type { Node } from 'prosemirror-model'
import { Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet } from 'prosemirror-view'

/** Where words that are looked for stand. */
export interface Place {
  from: number
  to: number
}

export const seekKey = new PluginKey<DecorationSet>('found places')

/** How many places are found at most. */
const mostFound = 2000

/** All places of words in a text, in large or small letters; what stands in two paragraphs is not found. */
export function placesOf(doc: Node, words: string): Place[] {
  const found: Place[] = []
  if (!words) return found
  const wanted = words.toLowerCase()
  doc.descendants((n, pos) => {
    if (!n.isTextblock) return found.length < mostFound
    // A sign for each position: what is no letter is one that nobody looks for.
    const text = n.textBetween(0, n.content.size, '\ufffc', '\ufffc')
    const lower = text.toLowerCase()
    // Letters whose small form is longer would shift all places.
    const within = lower.length === text.length ? lower : text
    for (let at = within.indexOf(wanted); at >= 0 && found.length < mostFound; at = within.indexOf(wanted, at + wanted.length))
      found.push({ from: pos + 1 + at, to: pos + 1 + at + wanted.length })
    return false
  })
  return found
}

/** Marks the places that were found; the one that is looked at more than the others. */
export function seeking(): Plugin<DecorationSet> {
  return new Plugin<DecorationSet>({
    key: seekKey,
    state: {
      init: () => DecorationSet.empty,
      apply(tr, set) {
        const next = tr.getMeta(seekKey) as { places: Place[]; at: number } | undefined
        if (!next) return set.map(tr.mapping, tr.doc)
        return DecorationSet.create(
          tr.doc,
          next.places.map((p, i) => Decoration.inline(p.from, p.to, { class: i === next.at ? 'found found-here' : 'found' })),
        )
      },
    },
    props: { decorations: (state) => seekKey.getState(state) },
  })
}
