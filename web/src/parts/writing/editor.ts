import { baseKeymap, chainCommands, exitCode, setBlockType, toggleMark, wrapIn } from 'prosemirror-commands'
import { collab } from 'prosemirror-collab'
import { dropCursor } from 'prosemirror-dropcursor'
import { gapCursor } from 'prosemirror-gapcursor'
import { history, redo, undo } from 'prosemirror-history'
import { inputRules, textblockTypeInputRule, wrappingInputRule } from 'prosemirror-inputrules'
import { keymap } from 'prosemirror-keymap'
import type { Node } from 'prosemirror-model'
import { liftListItem, sinkListItem, splitListItem, wrapInList } from 'prosemirror-schema-list'
import { EditorState, NodeSelection, type Command, type Plugin } from 'prosemirror-state'
import { goToNextCell, tableEditing } from 'prosemirror-tables'
import { carets, wrote } from './carets'
import { passages } from './passages'
import { seeking } from './seek'
import { fieldId, schema } from './schema'

const n = schema.nodes
const m = schema.marks

const hardBreak: Command = chainCommands(exitCode, (state, dispatch) => {
  dispatch?.(state.tr.replaceSelectionWith(n.hard_break!.create()).scrollIntoView())
  return true
})

/** What a paragraph can be, by its name. */
export const kinds: Record<string, Command> = {
  paragraph: setBlockType(n.paragraph!),
  heading1: setBlockType(n.heading!, { level: 1 }),
  heading2: setBlockType(n.heading!, { level: 2 }),
  heading3: setBlockType(n.heading!, { level: 3 }),
  bullets: wrapInList(n.bullet_list!),
  numbers: wrapInList(n.ordered_list!),
  tasks: wrapInList(n.task_list!),
  quote: wrapIn(n.blockquote!),
  code: setBlockType(n.code_block!),
}

/** What the paragraph is in which one writes. */
export function kindAt(state: EditorState): string {
  const { $from } = state.selection
  for (let d = $from.depth; d > 0; d--) {
    const is = $from.node(d).type
    if (is === n.bullet_list) return 'bullets'
    if (is === n.ordered_list) return 'numbers'
    if (is === n.task_list) return 'tasks'
    if (is === n.blockquote) return 'quote'
  }
  const { type, attrs } = $from.parent
  if (type === n.heading) return `heading${Math.min(3, attrs.level as number)}`
  return type === n.code_block ? 'code' : 'paragraph'
}

/** Sets what the paragraph is: out of a list or quote first, where it stands in one. */
export function setKind(kind: string): Command {
  return (state, dispatch, view) => {
    const now = kindAt(state)
    if (now === kind) return false
    if (['bullets', 'numbers', 'tasks'].includes(now)) {
      const item = now === 'tasks' ? n.task_item! : n.list_item!
      if (!liftListItem(item)(state, dispatch, view)) return false
      return kind === 'paragraph' || !view ? true : kinds[kind]!(view.state, dispatch, view)
    }
    return kinds[kind]!(state, dispatch, view)
  }
}

export const looks: Record<string, Command> = {
  strong: toggleMark(m.strong!),
  em: toggleMark(m.em!),
  struck: toggleMark(m.struck!),
  code: toggleMark(m.code!),
}

/** A table of so many rows and columns, the first row its headings. */
export function table(rows: number, columns: number): Command {
  return (state, dispatch) => {
    const cell = (kind: string) => schema.nodes[kind]!.createAndFill()!
    const row = (kind: string) =>
      n.table_row!.create(
        null,
        Array.from({ length: columns }, () => cell(kind)),
      )
    const all = Array.from({ length: rows }, (_, i) => row(i ? 'table_cell' : 'table_header'))
    dispatch?.(state.tr.replaceSelectionWith(n.table!.create(null, all)).scrollIntoView())
    return true
  }
}

/** A field to be filled in; it is chosen, so that what it asks can be said. */
export const addField: Command = (state, dispatch) => {
  const field = n.field!.create({ id: fieldId() })
  const { $from } = state.selection
  if (!$from.parent.inlineContent || $from.parent.type === n.code_block) return false
  const tr = state.tr.replaceSelectionWith(field, false)
  const at = tr.mapping.map(state.selection.from, -1)
  dispatch?.(tr.setSelection(NodeSelection.create(tr.doc, at)).scrollIntoView())
  return true
}

const rules = inputRules({
  rules: [
    textblockTypeInputRule(/^(#{1,3})\s$/, n.heading!, (found) => ({ level: found[1]!.length })),
    wrappingInputRule(/^\[([ x])\]\s$/, n.task_list!),
    wrappingInputRule(/^\s*[-+*]\s$/, n.bullet_list!),
    wrappingInputRule(/^(\d+)\.\s$/, n.ordered_list!, (found) => ({ start: Number(found[1]) })),
    wrappingInputRule(/^\s*>\s$/, n.blockquote!),
    textblockTypeInputRule(/^```$/, n.code_block!),
  ],
})

const keys = keymap({
  'Mod-z': undo,
  'Mod-y': redo,
  'Shift-Mod-z': redo,
  'Mod-b': looks.strong!,
  'Mod-i': looks.em!,
  'Mod-e': looks.code!,
  'Shift-Mod-x': looks.struck!,
  'Mod-Alt-0': setKind('paragraph'),
  'Mod-Alt-1': setKind('heading1'),
  'Mod-Alt-2': setKind('heading2'),
  'Mod-Alt-3': setKind('heading3'),
  'Shift-Enter': hardBreak,
  Enter: chainCommands(splitListItem(n.list_item!), splitListItem(n.task_item!)),
  Tab: chainCommands(goToNextCell(1), sinkListItem(n.list_item!), sinkListItem(n.task_item!)),
  'Shift-Tab': chainCommands(goToNextCell(-1), liftListItem(n.list_item!), liftListItem(n.task_item!)),
})

/** A text at a version, as this page writes it. */
export function stateOf(doc: Node, version: number, page: string, more: Plugin[]): EditorState {
  return EditorState.create({
    doc,
    plugins: [
      ...more,
      rules,
      keys,
      keymap(baseKeymap),
      history(),
      collab({ version, clientID: page }),
      tableEditing(),
      dropCursor(),
      gapCursor(),
      wrote(),
      passages(),
      seeking(),
      carets(),
    ],
  })
}
