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
  const [anchor, head] = [Math.min(o.anchor, size), Math.min(o.head, size)]
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
