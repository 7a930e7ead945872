import type { Node } from 'prosemirror-model'
import { Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet } from 'prosemirror-view'

/** Words that are talked about: where they stand now, and by which number the thread is known beside them. */
export interface Passage {
  thread: string
  from: number
  to: number
  number: number
}

export const passagesKey = new PluginKey<DecorationSet>('passages')

/** Where the words of threads stand, in their order; what is not found any more has no place. */
export function passagesIn(doc: Node, threads: { id: string; words: string }[]): Passage[] {
  const found: Passage[] = []
  const wanted = new Set(threads.map((t) => t.id))
  // A remark holds on to its words by a mark, whatever became of them.
  doc.descendants((n, pos) => {
    for (const m of n.marks) {
      if (m.type.name !== 'remark' || !wanted.has(m.attrs.id as string)) continue
      const known = found.find((f) => f.thread === m.attrs.id)
      if (known) known.to = pos + n.nodeSize
      else found.push({ thread: m.attrs.id as string, from: pos, to: pos + n.nodeSize, number: 0 })
    }
  })
  doc.descendants((n, pos) => {
    if (!n.isTextblock) return true
    const text = n.textBetween(0, n.content.size, ' ', ' ')
    for (const t of threads) {
      const at = found.some((f) => f.thread === t.id) ? -1 : text.indexOf(t.words)
      if (at >= 0) found.push({ thread: t.id, from: pos + 1 + at, to: pos + 1 + at + t.words.length, number: 0 })
    }
    return false
  })
  found.sort((a, b) => a.from - b.from)
  return found.map((f, i) => ({ ...f, number: i + 1 }))
}

function sign(p: Passage): HTMLElement {
  const dom = document.createElement('span')
  dom.className = 'passage-sign'
  dom.textContent = String(p.number)
  dom.dataset.thread = p.thread
  return dom
}

/** Marks the words that are talked about. */
export function passages(): Plugin<DecorationSet> {
  return new Plugin<DecorationSet>({
    key: passagesKey,
    state: {
      init: () => DecorationSet.empty,
      apply(tr, set) {
        const all = tr.getMeta(passagesKey) as Passage[] | undefined
        if (!all) return set.map(tr.mapping, tr.doc)
        return DecorationSet.create(
          tr.doc,
          all.flatMap((p) => [
            Decoration.inline(p.from, p.to, { class: 'passage', 'data-thread': p.thread }),
            Decoration.widget(p.to, () => sign(p), { key: `${p.thread}-${p.number}`, side: 5, ignoreSelection: true }),
          ]),
        )
      },
    },
    props: { decorations: (state) => passagesKey.getState(state) },
  })
}
