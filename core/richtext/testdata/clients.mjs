// Several clients write one document at random, each with the editor's own modules:
// they send what they did, are told of the others' steps late, and carry their own
// over them. Printed, line by line: the document at the beginning, each batch as it
// was sent with the version it was made on and as the client itself carried it on,
// and the document now and then. Usage: node clients.mjs MODULES SCHEMA SEED STEPS
import { createRequire } from 'node:module'
import { readFileSync } from 'node:fs'
import { resolve } from 'node:path'
import { chances } from './random.mjs'

const [modules, schemaFile, seed, wanted] = process.argv.slice(2)
const load = createRequire(resolve(modules) + '/')
const { Schema, Fragment, Slice } = load('prosemirror-model')
const { EditorState } = load('prosemirror-state')
const transform = load('prosemirror-transform')
const collab = load('prosemirror-collab')
const history = load('prosemirror-history')

const schema = new Schema(JSON.parse(readFileSync(schemaFile, 'utf8')))
const n = schema.nodes

const { chance, below, one } = chances(seed)

const words = ['plate', ' frame 31', 'ü', ' 😀', '𝒳y', ' the yard', '.', ' not', 'e\u0301', ' לוח', '\t', ' <b>&', '"\\']
const say = (line) => process.stdout.write(JSON.stringify(line) + '\n')

const p = (text) => n.paragraph.create(null, text ? schema.text(text) : null)
const beginning = n.doc.create(null, [
  n.heading.create({ level: 2 }, schema.text('Side shell, port')),
  p('We gauged the port side shell between frames 18 and 44.'),
  n.bullet_list.create(null, [n.list_item.create(null, p('one 😀')), n.list_item.create(null, [p('two'), p('and more')])]),
  n.table.create(null, [0, 1].map((r) => n.table_row.create(null, [0, 1].map((c) => n.table_cell.create(null, p(`r${r}c${c}`)))))),
  n.task_list.create(null, [n.task_item.create({ done: true }, p('finished'))]),
  n.blockquote.create(null, p('Name the strake.')),
  n.code_block.create(null, schema.text('a := 1')),
  p('Yours sincerely'),
])
beginning.check()

let made = 0
const fresh = (doc, version) =>
  EditorState.create({ doc, plugins: [collab.collab({ version, clientID: `c${++made}` }), history.history()] })

/** A position that lies in no character, where text may stand. */
function textPlace(doc) {
  for (let i = 0; i < 20; i++) {
    const at = below(doc.content.size + 1)
    const $at = doc.resolve(at)
    if ($at.parent.inlineContent && !cuts(doc, at)) return at
  }
  return null
}
function cuts(doc, at) {
  const $at = doc.resolve(at)
  const before = $at.nodeBefore
  if (!$at.textOffset || !before) return false
  const unit = before.text.charCodeAt(before.text.length - 1)
  return unit >= 0xd800 && unit < 0xdc00
}
function range(doc, most) {
  let from = below(doc.content.size + 1)
  let to = Math.min(doc.content.size, from + below(most))
  while (cuts(doc, from)) from++
  while (cuts(doc, to)) to++
  return [Math.min(from, to), to]
}
function blocks(doc) {
  const all = []
  doc.descendants((node, at) => {
    if (!node.isInline) all.push([node, at])
  })
  return all
}
const marks = () =>
  one([
    schema.mark('strong'),
    schema.mark('em'),
    schema.mark('code'),
    schema.mark('link', { href: 'https://yard.example/' + below(3) }),
    schema.mark('remark', { id: 'r' + below(3) }),
    schema.mark('inserted', { id: 'i' + below(3), by: 'p' + below(2) }),
    schema.mark('deleted', { id: 'd' + below(3), by: 'p' + below(2) }),
  ])

const edits = {
  type(tr) {
    const at = textPlace(tr.doc)
    if (at != null) tr.insertText(one(words), at)
  },
  remove(tr) {
    tr.delete(...range(tr.doc, one([2, 4, 10, 40])))
  },
  removeWide(tr) {
    if (chance() < 0.3) tr.deleteRange(...range(tr.doc, 80))
  },
  more(tr) {
    if (tr.doc.content.size < 500) tr.insert(below(2) ? 0 : tr.doc.content.size, beginning.content)
  },
  split(tr) {
    const at = textPlace(tr.doc)
    const depth = 1 + below(2)
    if (at != null && transform.canSplit(tr.doc, at, depth)) tr.split(at, depth)
  },
  join(tr) {
    const [, at] = one(blocks(tr.doc))
    if (at && transform.canJoin(tr.doc, at)) tr.join(at)
  },
  mark(tr) {
    tr.addMark(...range(tr.doc, 40), marks())
  },
  unmark(tr) {
    tr.removeMark(...range(tr.doc, 40), chance() < 0.5 ? undefined : marks())
  },
  kind(tr) {
    const [from, to] = range(tr.doc, 30)
    const [type, attrs] = one([[n.paragraph], [n.heading, { level: 1 + below(6) }], [n.code_block, { language: 'go' }]])
    tr.setBlockType(from, to, type, attrs)
  },
  attribute(tr) {
    const [node, at] = one(blocks(tr.doc))
    if (node.type == n.task_item) tr.setNodeAttribute(at, 'done', !node.attrs.done)
    if (node.type == n.table_cell) tr.setNodeAttribute(at, 'colwidth', one([null, [100]]))
    if (node.type == n.ordered_list) tr.setNodeAttribute(at, 'start', below(9))
  },
  nodeMark(tr) {
    const [node, at] = one(blocks(tr.doc))
    const mark = schema.mark(one(['inserted', 'deleted']), { id: 'b' + below(2), by: 'p' + below(2), at: below(9) })
    if (!tr.doc.resolve(at).parent.type.allowsMarkType(mark.type)) return
    if (chance() < 0.7) tr.addNodeMark(at, mark)
    else tr.removeNodeMark(at, mark)
  },
  wrap(tr) {
    const [from, to] = range(tr.doc, 60)
    const around = tr.doc.resolve(from).blockRange(tr.doc.resolve(to))
    const wrapping = around && transform.findWrapping(around, one([n.bullet_list, n.ordered_list, n.blockquote, n.task_list]))
    if (wrapping) tr.wrap(around, wrapping)
  },
  lift(tr) {
    const [from, to] = range(tr.doc, 20)
    const around = tr.doc.resolve(from).blockRange(tr.doc.resolve(to))
    const depth = around && transform.liftTarget(around)
    if (depth != null) tr.lift(around, depth)
  },
  paste(tr) {
    const cut = tr.doc.slice(...range(tr.doc, 70))
    tr.replaceRange(...range(tr.doc, 10), cut)
  },
  replace(tr) {
    tr.replace(...range(tr.doc, 10), Slice.maxOpen(tr.doc.slice(...range(tr.doc, 70)).content))
  },
  leaf(tr) {
    const at = textPlace(tr.doc)
    if (at == null) return
    const node = one([
      n.hard_break.create(),
      n.note.create({ text: 'see 4.2' }),
      n.picture.create({ src: 'picture:ab12', alt: 'Frame 31' }),
      n.field.create({ id: 'f1', kind: 'day' }),
    ])
    tr.replaceWith(at, at, Fragment.from(node))
  },
  move(tr) {
    const [node, at] = one(blocks(tr.doc))
    tr.delete(at, at + node.nodeSize)
    const to = transform.insertPoint(tr.doc, below(tr.doc.content.size), node.type)
    if (to != null) tr.insert(to, node)
  },
}

// clients write; the log is what the authority accepted, in groups.
const log = []
const docs = [beginning]
const clients = [0, 1, 2, 3].map(() => ({ state: fresh(beginning, 0), at: 0, sent: null }))
const wire = []
const groupAt = (version) => {
  let group = 0
  for (let v = 0; v < version; group++) v += log[group].steps.length
  return group
}
let accepted = 0
const version = () => accepted
// What undoes a set of marks twice is a set within a set, which the editor writes and
// does not read: it is sent flat.
const flat = (s) => (s.stepType == 'markSet' ? { ...s, steps: s.steps.flatMap((i) => flat(i).steps ?? i) } : s)
const toJSON = (steps) => steps.map((s) => flat(s.toJSON()))

function edit(client) {
  if (chance() < 0.08) {
    const undo = one([history.undo, history.redo])
    try {
      undo(client.state, (tr) => accept(client, tr))
    } catch {
      return
    }
    return
  }
  const tr = client.state.tr
  try {
    for (let i = 0; i < 1 + below(2); i++) one(Object.values(edits))(tr)
  } catch {
    return
  }
  accept(client, tr)
}
function accept(client, tr) {
  if (!tr.docChanged || tr.doc.content.size > 2500) return
  try {
    tr.doc.check()
  } catch {
    return
  }
  client.state = client.state.apply(tr)
}
function send(client) {
  const sendable = client.sent ? null : collab.sendableSteps(client.state)
  if (!sendable) return
  client.sent = true
  wire.push({ client, id: sendable.clientID, version: sendable.version, steps: sendable.steps.slice() })
}
// arrive carries a batch over what came before it the way its client does.
function arrive(batch) {
  const group = groupAt(batch.version)
  let ghost = EditorState.create({ doc: docs[group], plugins: [collab.collab({ version: batch.version, clientID: batch.id })] })
  let refused = false
  try {
    const tr = ghost.tr
    for (const s of batch.steps) tr.step(s)
    ghost = ghost.apply(tr)
    for (const g of log.slice(group)) {
      ghost = ghost.apply(collab.receiveTransaction(ghost, g.steps, g.steps.map(() => g.client)))
    }
    ghost.doc.check()
  } catch {
    refused = true
  }
  const carried = collab.sendableSteps(ghost)?.steps ?? []
  say({ version: batch.version, steps: toJSON(batch.steps), carried: refused ? null : toJSON(carried), client: batch.id })
  batch.client.sent = null
  if (refused) {
    batch.client.state = fresh(docs[docs.length - 1], version())
    batch.client.at = log.length
    return
  }
  if (!carried.length) return
  log.push({ steps: carried, client: batch.id })
  docs.push(ghost.doc)
  accepted += carried.length
  batch.client.sent = true
  if (chance() < 0.2) say({ doc: ghost.doc.toJSON() })
}
function deliver(client) {
  if (client.at == log.length) return
  const g = log[client.at++]
  const id = collab.sendableSteps(client.state)?.clientID
  if (g.client == id) {
    const own = toJSON(collab.sendableSteps(client.state).steps.slice(0, g.steps.length))
    if (JSON.stringify(own) != JSON.stringify(toJSON(g.steps))) throw new Error('a client carried its steps otherwise than it was told')
    client.sent = null
  }
  client.state = client.state.apply(collab.receiveTransaction(client.state, g.steps, g.steps.map(() => g.client)))
}

say({ doc: beginning.toJSON() })
while (version() < Number(wanted)) {
  const client = one(clients)
  one([
    () => edit(client),
    () => edit(client),
    () => send(client),
    () => send(client),
    () => wire.length && arrive(wire.splice(below(wire.length), 1)[0]),
    () => wire.length && arrive(wire.shift()),
    () => deliver(client),
    () => deliver(client),
    () => deliver(client),
  ])()
}
while (wire.length) arrive(wire.shift())
for (const client of clients) while (client.at < log.length) deliver(client)
for (const client of clients)
  if (!collab.sendableSteps(client.state) && !client.state.doc.eq(docs[docs.length - 1])) throw new Error('a client holds another document')
say({ doc: docs[docs.length - 1].toJSON() })
