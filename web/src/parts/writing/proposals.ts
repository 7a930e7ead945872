import { Fragment, Slice, type Mark, type Node } from 'prosemirror-model'
import { TextSelection, type EditorState, type Transaction } from 'prosemirror-state'
import { canJoin, ReplaceStep } from 'prosemirror-transform'
import { schema } from './schema'

/** Something that somebody proposes: what goes, what comes, and where. */
export interface Proposal {
  id: string
  by: string
  at: number
  from: number
  to: number
  out: string
  in: string
  /** Paragraphs that are broken or joined. */
  breaks: number
}

const { inserted, deleted } = schema.marks
const isProposal = (m: Mark) => m.type === inserted || m.type === deleted

/** What is proposed in a text, in its order. */
export function proposalsIn(doc: Node): Proposal[] {
  const all = new Map<string, Proposal>()
  doc.descendants((n, pos) => {
    for (const m of n.marks.filter(isProposal)) {
      const id = m.attrs.id as string
      const p = all.get(id) ?? { id, by: m.attrs.by as string, at: m.attrs.at as number, from: pos, to: pos, out: '', in: '', breaks: 0 }
      p.to = Math.max(p.to, pos + (n.isInline ? n.nodeSize : 1))
      if (!n.isInline) p.breaks++
      else if (m.type === inserted) p.in += n.text ?? ' '
      else p.out += n.text ?? ' '
      all.set(id, p)
    }
  })
  return [...all.values()].sort((a, b) => a.from - b.from)
}

export const wordsIn = (text: string) => text.trim().split(/\s+/).filter(Boolean).length

/** Who proposes, and as what: steps that follow each other are one proposal. */
export interface Proposer {
  me: string
  now: () => number
  fresh: () => string
}

const ownAt = (n: Node, me: string) => n.marks.find((m) => m.type === inserted && m.attrs.by === me)

/** The proposal of mine that a place touches, so that what I go on writing belongs to it. */
function touching(doc: Node, pos: number, me: string): Mark['attrs'] | undefined {
  const $pos = doc.resolve(pos)
  for (const n of [$pos.nodeBefore, $pos.nodeAfter]) {
    const own = n?.marks.find((m) => isProposal(m) && m.attrs.by === me)
    if (own) return own.attrs
  }
  return undefined
}

/**
 * A change as a proposal: what it would take away is marked as to go, what it brings as coming. Undefined where it is
 * more than can be proposed: how words look, of what kind a paragraph is.
 */
export function proposing(tr: Transaction, state: EditorState, who: Proposer): Transaction | undefined {
  const next = state.tr
  let caret: number | undefined
  for (const [i, step] of tr.steps.entries()) {
    if (!(step instanceof ReplaceStep)) return undefined
    const back = tr.mapping.slice(0, i).invert()
    const from = next.mapping.map(back.map(step.from, 1), 1)
    const to = Math.max(from, next.mapping.map(back.map(step.to, -1), -1))
    const attrs = touching(next.doc, from, who.me) ?? touching(next.doc, to, who.me) ?? { id: who.fresh(), by: who.me, at: who.now() }
    const backwards = state.selection.empty && state.selection.from === step.to && step.slice.size === 0
    const end = strike(next, from, to, attrs)
    caret = backwards ? from : end
    if (step.slice.size) {
      const before = next.doc.content.size
      next.step(new ReplaceStep(end, end, marked(step.slice, attrs)))
      caret = end + next.doc.content.size - before
    }
  }
  if (caret !== undefined) {
    const at = next.doc.resolve(Math.min(caret, next.doc.content.size))
    next.setSelection(TextSelection.near(at, -1))
  }
  next.setStoredMarks(state.storedMarks)
  return next.scrollIntoView()
}

/** Marks a range as to go, and takes away what was one's own proposal; answers where it ends then. */
function strike(tr: Transaction, from: number, to: number, attrs: Record<string, unknown>): number {
  const start = tr.mapping.maps.length
  const own: [number, number][] = []
  tr.doc.nodesBetween(from, to, (n, pos) => {
    if (n.isInline) {
      const [a, b] = [Math.max(from, pos), Math.min(to, pos + n.nodeSize)]
      if (ownAt(n, attrs.by as string)) own.push([a, b])
      else if (!n.marks.some((m) => m.type === deleted && m.attrs.by === attrs.by)) tr.addMark(a, b, deleted!.create(attrs))
    } else if (pos >= from && pos < to && tr.doc.resolve(pos).parent.type.allowsMarkType(deleted!)) {
      if (ownAt(n, attrs.by as string)) own.push([pos, pos])
      else tr.addNodeMark(pos, deleted!.create(attrs))
    }
    return true
  })
  const kept = tr.mapping.maps.length
  for (const [a, b] of own.reverse()) {
    const [x, y] = [tr.mapping.slice(kept).map(a), tr.mapping.slice(kept).map(b)]
    if (x !== y) tr.delete(x, y)
    else if (canJoin(tr.doc, x)) tr.join(x)
  }
  return tr.mapping.slice(start).map(to)
}

/** A slice whose content is marked as coming; of what only goes on, the first node is not. */
function marked(slice: Slice, attrs: Record<string, unknown>): Slice {
  const mark = inserted!.create(attrs)
  const through = (f: Fragment, parent: Node | null, open: number): Fragment => {
    const nodes: Node[] = []
    f.forEach((n, _, i) => {
      const bare = n.marks.filter((m) => !isProposal(m))
      if (n.isInline) {
        nodes.push(n.mark(mark.addToSet(bare)))
        return
      }
      const goesOn = i === 0 && open > 0
      const inner = n.copy(through(n.content, n, goesOn ? open - 1 : 0))
      const may = !parent || parent.type.allowsMarkType(inserted!)
      nodes.push(goesOn || !may ? inner.mark(bare) : inner.mark(mark.addToSet(bare)))
    })
    return Fragment.fromArray(nodes)
  }
  return new Slice(through(slice.content, null, slice.openStart), slice.openStart, slice.openEnd)
}

/** Decides on proposals: what was accepted stands, what was rejected has never been. */
export function decided(state: EditorState, ids: string[], accept: boolean): Transaction {
  const tr = state.tr
  const places: { pos: number; end: number; mark: Mark; inline: boolean }[] = []
  state.doc.descendants((n, pos) => {
    for (const mark of n.marks)
      if (isProposal(mark) && ids.includes(mark.attrs.id as string)) places.push({ pos, end: pos + n.nodeSize, mark, inline: n.isInline })
  })
  for (const { pos, end, mark, inline } of places.reverse()) {
    const [from, to] = [tr.mapping.map(pos, 1), tr.mapping.map(end, -1)]
    const stays = (mark.type === inserted) === accept
    if (inline) {
      if (stays) tr.removeMark(from, to, mark)
      else if (from < to) tr.delete(from, to)
      continue
    }
    if (!tr.doc.nodeAt(from)) continue
    tr.removeNodeMark(from, mark)
    if (stays) continue
    const node = tr.doc.nodeAt(from)!
    if (canJoin(tr.doc, from)) tr.join(from)
    else if (node.textContent === '' && tr.doc.childCount > 1) tr.delete(from, from + node.nodeSize)
  }
  return tr
}
