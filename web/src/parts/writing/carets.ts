import { Plugin, PluginKey } from 'prosemirror-state'
import { Decoration, DecorationSet } from 'prosemirror-view'
import type { Pen } from './pens'

/** Where the others are: their carets, and what they have chosen. */
export interface Others {
  pen: Pen
  anchor: number
  head: number
}

export const caretsKey = new PluginKey<DecorationSet>('carets')

function drawn(o: Others, size: number): Decoration[] {
  const within = (pos: number) => Math.max(0, Math.min(pos, size))
  const [anchor, head] = [within(o.anchor), within(o.head)]
  const caret = document.createElement('span')
  caret.className = `their-caret pen-${o.pen.line}`
  caret.setAttribute('aria-hidden', 'true')
  const name = caret.appendChild(document.createElement('em'))
  name.textContent = o.pen.short
  const all = [Decoration.widget(head, caret, { key: `${o.pen.page}-${o.pen.line}`, side: 10, ignoreSelection: true })]
  if (anchor !== head)
    all.push(Decoration.inline(Math.min(anchor, head), Math.max(anchor, head), { class: `their-choice pen-${o.pen.line}` }))
  return all
}

export const wroteKey = new PluginKey<DecorationSet>('who wrote what')

/** A part that somebody wrote, with what is said of it. */
export interface WrittenPart {
  from: number
  to: number
  pen: Pen
  words: string
}

/** Shows who wrote what, each part on its writer's line. */
export function wrote(): Plugin<DecorationSet> {
  return new Plugin<DecorationSet>({
    key: wroteKey,
    state: {
      init: () => DecorationSet.empty,
      apply(tr, set) {
        const parts = tr.getMeta(wroteKey) as WrittenPart[] | undefined
        if (!parts) return set.map(tr.mapping, tr.doc)
        const size = tr.doc.content.size
        return DecorationSet.create(
          tr.doc,
          parts
            .filter((p) => p.from < size)
            .map((p) => Decoration.inline(p.from, Math.min(p.to, size), { class: `wrote pen-${p.pen.line}`, title: p.words })),
        )
      },
    },
    props: { decorations: (state) => wroteKey.getState(state) },
  })
}

/** Draws the others' carets, and lets them go along with what is written. */
export function carets(): Plugin<DecorationSet> {
  return new Plugin<DecorationSet>({
    key: caretsKey,
    state: {
      init: () => DecorationSet.empty,
      apply(tr, set) {
        const others = tr.getMeta(caretsKey) as Others[] | undefined
        if (!others) return set.map(tr.mapping, tr.doc)
        return DecorationSet.create(
          tr.doc,
          others.flatMap((o) => drawn(o, tr.doc.content.size)),
        )
      },
    },
    props: { decorations: (state) => caretsKey.getState(state) },
  })
}
