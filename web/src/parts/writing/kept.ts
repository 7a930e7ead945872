import type { Node } from 'prosemirror-model'
import type { NodeView } from 'prosemirror-view'
import { pictureAt } from './pictures'

/** How many of what is kept as it is a text holds, by what it is, in the order in which it comes. */
export function keptIn(doc: Node): [kind: string, count: number][] {
  const all = new Map<string, number>()
  doc.descendants((n) => {
    if (n.type.name.startsWith('kept')) all.set(n.attrs.kind as string, (all.get(n.attrs.kind as string) ?? 0) + 1)
  })
  return [...all]
}

/** Something that a program put into a document: it stands where it stood, is named, and is not changed here. */
export function keptView(node: Node, named: (kind: string) => string, pictures?: string): NodeView {
  const { id, kind, label } = node.attrs as { id: string; kind: string; label: string }
  if (kind === 'picture' && pictures) {
    // The picture itself, where it is of a kind that is shown.
    const shown = pictureAt(`${pictures}/${id}`, label || named(kind), () => keptDOM(node, named))
    shown.dom.title = shown.dom.alt
    return shown
  }
  return { dom: keptDOM(node, named) }
}

/** What names it. */
function keptDOM(node: Node, named: (kind: string) => string): HTMLElement {
  const { kind, label } = node.attrs as { kind: string; label: string }
  const dom = document.createElement(node.isBlock ? 'div' : 'span')
  dom.className = `kept kept-${kind}`
  // A page number or a date of the program's is read as the words that it came to.
  const speaks = ['field', 'control', 'formula', 'other'].includes(kind) && label
  dom.textContent = speaks && node.isInline ? label : label && node.isBlock ? `${named(kind)}: ${label}` : named(kind)
  dom.title = label ? `${named(kind)}: ${label}` : named(kind)
  return dom
}
