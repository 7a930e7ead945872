import { getVersion } from 'prosemirror-collab'
import type { Node } from 'prosemirror-model'
import type { EditorState, Transaction } from 'prosemirror-state'
import { EditorView, type NodeView } from 'prosemirror-view'
import { computed, onBeforeUnmount, ref } from 'vue'
import type { Schemas } from '../../api/client'
import { caretsKey, wroteKey, type Others, type WrittenPart } from './carets'
import { textScript } from './collab'
import { stateOf } from './editor'
import { keptView } from './kept'
import { usePage } from './page'
import { stemOf } from '../../i18n/words'
import { pictureBeside } from './pictures'
import { passagesIn, passagesKey } from './passages'
import { proposalsIn, proposing } from './proposals'
import { schema } from './schema'
import type { Ways } from './ways'

/** A text that is open in this page: the editor, the line to the server, and what is known of both. */
export function useText(
  ways: Ways,
  me: string,
  told: {
    onlyText: () => void
    checked: (done: boolean) => string
    brings: (file: File) => Promise<string | undefined>
    becameTable: () => void
    keeps: (kind: string) => string
  },
  itself?: string,
) {
  const sitting = usePage(ways, me, itself)
  const { page, mode, stands, lost, opening, pens, come, know } = sitting
  /** Counts what changes in the editor, so that what is read from it is read anew. */
  const changes = ref(0)
  const places = new Map<string, Schemas['WritingCaret']>()
  let view: EditorView | undefined
  let lastThreads: { id: string; words: string }[] = []

  const editable = () => stands.value !== 'ended' && (mode.value === 'write' || mode.value === 'propose')
  const proposals = computed(() => (changes.value >= 0 && view ? proposalsIn(view.state.doc) : []))
  /** In which paragraph each of them is. */
  const paragraphs = computed(() => {
    const all: Record<string, number> = {}
    if (changes.value < 0 || !view) return all
    const doc = view.state.doc
    for (const pen of pens.value) {
      const at = pen.person === me ? view.state.selection.head : places.get(pen.page)?.head
      if (at !== undefined && (pen.person !== me || view.hasFocus()))
        all[pen.person] = doc.resolve(Math.min(at, doc.content.size)).index(0) + 1
    }
    return all
  })
  const look = computed(() => (changes.value >= 0 && view ? view.state : undefined))

  function update(state: EditorState) {
    view!.updateState(state)
    changes.value++
  }

  /** Places go along with what is written; those of a version to come are drawn once it is here. */
  function goAlong(tr: Transaction) {
    const version = getVersion(view!.state)
    if (!tr.docChanged) return
    for (const [page, c] of places)
      if (c.version <= version) places.set(page, { ...c, anchor: tr.mapping.map(c.anchor), head: tr.mapping.map(c.head) })
  }

  function dispatch(tr: Transaction) {
    if (!view) return
    let change: Transaction | undefined = tr
    if (tr.docChanged && mode.value === 'propose' && !tr.getMeta('history$')) {
      change = proposing(tr, view.state, { me, now: () => Date.now(), fresh: () => crypto.randomUUID() })
      if (!change) {
        told.onlyText()
        return
      }
    }
    goAlong(change)
    update(view.state.apply(change))
    if (change.docChanged) sitting.send()
    sitting.tellCaret()
  }

  /** Takes over what others wrote. */
  function apply(tr: Transaction) {
    const before = getVersion(view!.state)
    goAlong(tr)
    update(view!.state.apply(tr))
    const now = getVersion(view!.state)
    if ([...places.values()].some((c) => c.version > before && c.version <= now)) draw()
  }

  /** The others' carets, drawn anew. */
  function draw() {
    if (!view) return
    const others: Others[] = pens.value.flatMap((pen) => {
      const at = pen.person === me ? undefined : places.get(pen.page)
      return at && at.version <= getVersion(view!.state) ? [{ pen, anchor: at.anchor, head: at.head }] : []
    })
    update(view.state.apply(view.state.tr.setMeta(caretsKey, others)))
  }

  /** Who wrote what, shown or no longer. */
  function showParts(parts: WrittenPart[]) {
    if (view) update(view.state.apply(view.state.tr.setMeta(wroteKey, parts)))
  }

  /** Where somebody's caret is, of those who are here. */
  function caretOf(person: string | undefined): number | undefined {
    const pen = changes.value >= 0 && person ? pens.value.find((p) => p.person === person) : undefined
    return pen && places.get(pen.page)?.head
  }

  /** Lets a place be seen. */
  function reveal(pos: number) {
    if (!view) return
    const { node } = view.domAtPos(Math.min(pos, view.state.doc.content.size))
    const dom = node instanceof HTMLElement ? node : node.parentElement
    dom?.scrollIntoView({ block: 'center' })
  }

  /** Marks the words that are talked about, and numbers them in their order. */
  function showPassages(threads: { id: string; words: string }[]): Map<string, number> {
    if (!view) return new Map()
    lastThreads = threads
    const all = passagesIn(view.state.doc, threads)
    update(view.state.apply(view.state.tr.setMeta(passagesKey, all)))
    return new Map(all.map((p) => [p.thread, p.number]))
  }

  /** Lets a remark hold on to the words it is about, wherever they go. */
  function holdOn(thread: string) {
    if (!view || stands.value === 'ended' || mode.value === 'look' || mode.value === 'fill') return
    const held = schema.marks.remark!.create({ id: thread })
    const at = passagesIn(view.state.doc, lastThreads).find((p) => p.thread === thread)
    if (!at || marked(thread)) return
    const tr = view.state.tr.addMark(at.from, at.to, held).setMeta('addToHistory', false)
    goAlong(tr)
    update(view.state.apply(tr))
    sitting.send()
  }
  function marked(thread: string): boolean {
    let yes = false
    view?.state.doc.descendants((n) => {
      yes ||= n.marks.some((m) => m.type.name === 'remark' && m.attrs.id === thread)
      return !yes
    })
    return yes
  }

  function begin(o: Schemas['WritingOpening'], at: HTMLElement) {
    const doc = schema.nodeFromJSON(o.text)
    view = new EditorView(at, {
      state: stateOf(doc, o.version, page, []),
      editable,
      dispatchTransaction: dispatch,
      attributes: () => ({
        'aria-multiline': 'true',
        role: 'textbox',
        tabindex: '0',
        'aria-readonly': String(!editable()),
        'aria-labelledby': 'written-title',
      }),
      nodeViews: {
        task_item: taskItem,
        picture: (node) => pictureBeside(ways.pictures, node),
        kept: (node) => keptView(node, told.keeps, ways.pictures),
        kept_block: (node) => keptView(node, told.keeps),
      },
      handlePaste: (_, e) => bringPictures([...(e.clipboardData?.files ?? [])]),
      handleDrop: (v, e) => bringPictures([...(e.dataTransfer?.files ?? [])], v.posAtCoords({ left: e.clientX, top: e.clientY })?.pos),
    })
    take(o)
    sitting.goOn(
      textScript(page, () => view!.state, apply),
      {
        anew: (next, unsent) => {
          // It has become another kind of document.
          if (next.table) return told.becameTable()
          if (unsent) lost.value = view!.state.doc.textBetween(0, view!.state.doc.content.size, '\n')
          if (next.text) update(stateOf(schema.nodeFromJSON(next.text), next.version, page, []))
          take(next)
        },
        people: (all) => {
          come(all)
          for (const p of all) if (p.caret) places.set(p.page, p.caret)
          draw()
        },
        caret: (c) => {
          if (!c.page) return
          places.set(c.page, c)
          draw()
        },
        mode: setMode,
        stands: (s) => s === 'ended' && setMode('look'),
      },
    )
    changes.value++
  }

  function take(o: Schemas['WritingOpening']) {
    opening.value = { ...o, text: undefined }
    know(o.authors)
    setMode(o.mode)
  }

  function setMode(m: Schemas['WritingMode']) {
    mode.value = m
    // Whether one may write is asked for anew.
    if (view) view.setProps({})
    changes.value++
  }

  /** Lays pictures beside the text, and puts them where they were pasted or dropped; false for anything else. */
  function bringPictures(files: File[], at?: number): boolean {
    const pictures = files.filter((f) => f.type.startsWith('image/'))
    if (!pictures.length || !editable()) return false
    void (async () => {
      for (const file of pictures) {
        const name = await told.brings(file)
        if (!name || !view) continue
        const node = schema.nodes.picture!.create({
          src: encodeURIComponent(name),
          alt: stemOf(name.startsWith('put-') ? file.name : name),
        })
        const { tr } = view.state
        dispatch(at === undefined ? tr.replaceSelectionWith(node, false) : tr.insert(Math.min(at, tr.doc.content.size), node))
      }
    })()
    return true
  }

  /** Puts a picture where the caret is. */
  const bring = (file: File) => bringPictures([file])

  /** A task with a box to tick, which the keyboard reaches. */
  function taskItem(node: Node, editor: EditorView, getPos: () => number | undefined): NodeView {
    const dom = window.document.createElement('li')
    const box = dom.appendChild(window.document.createElement('input'))
    const contentDOM = dom.appendChild(window.document.createElement('div'))
    box.type = 'checkbox'
    box.contentEditable = 'false'
    const show = (n: Node) => {
      box.checked = n.attrs.done as boolean
      box.setAttribute('aria-label', told.checked(box.checked))
      dom.dataset.task = box.checked ? 'done' : 'open'
    }
    show(node)
    box.addEventListener('change', () => {
      const at = getPos()
      if (at !== undefined && mode.value === 'write') editor.dispatch(editor.state.tr.setNodeAttribute(at, 'done', box.checked))
      else box.checked = !box.checked
    })
    return {
      dom,
      contentDOM,
      update: (n) => {
        if (n.type !== node.type) return false
        show(n)
        return true
      },
      stopEvent: (e) => e.target === box,
      ignoreMutation: (m) => m.target === box || (m.type !== 'selection' && !contentDOM.contains(m.target)),
    }
  }

  const open = (at: HTMLElement) =>
    sitting.open((m) => {
      begin(m.opening!, at)
      come(m.people ?? [])
    })

  onBeforeUnmount(() => {
    view?.destroy()
    view = undefined
  })

  return {
    ...sitting,
    open,
    showParts,
    showPassages,
    holdOn,
    bring,
    caretOf,
    reveal,
    proposals,
    paragraphs,
    look,
    changes,
    view: () => view,
  }
}

export type Text = ReturnType<typeof useText>
