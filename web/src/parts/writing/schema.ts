import { Schema, type DOMOutputSpec, type Mark, type MarkSpec, type Node, type NodeSpec, type TagParseRule } from 'prosemirror-model'
import kinds from '../../../../core/richtext/schema.json'

/** How a node stands in the page, and by what it is known when it is pasted. */
interface Look {
  toDOM?: (n: Node) => DOMOutputSpec
  parseDOM?: TagParseRule[]
}

const text = (value: string | null) => value ?? ''
const span = (dom: HTMLElement, of: string) => Math.min(Math.max(Number(dom.getAttribute(of)) || 1, 1), of === 'colspan' ? 200 : 2000)
const cellAttrs = (dom: HTMLElement) => ({
  colspan: span(dom, 'colspan'),
  rowspan: span(dom, 'rowspan'),
  align: ['left', 'center', 'right'].includes(dom.style.textAlign) ? dom.style.textAlign : '',
})
const cellDOM = (n: Node) => ({
  ...(n.attrs.colspan === 1 ? {} : { colspan: String(n.attrs.colspan) }),
  ...(n.attrs.rowspan === 1 ? {} : { rowspan: String(n.attrs.rowspan) }),
  ...(n.attrs.align ? { style: `text-align: ${n.attrs.align as string}` } : {}),
})

/** What a program put into a document: known again by its name, which says what it is. */
const keptDOM = (n: Node) => ({ class: 'kept', 'data-kept': n.attrs.id as string, 'data-kind': n.attrs.kind as string })
const keptAttrs = (dom: HTMLElement) => {
  const kind = text(dom.getAttribute('data-kind'))
  const id = text(dom.getAttribute('data-kept'))
  return /^[0-9a-f]{1,40}$/.test(id) && kinds.nodes.kept.attrs.kind.among.includes(kind)
    ? { id, kind, label: (dom.textContent ?? '').slice(0, 100) }
    : false
}

const looks: Record<string, Look> = {
  paragraph: { parseDOM: [{ tag: 'p' }], toDOM: () => ['p', 0] },
  heading: {
    parseDOM: [1, 2, 3, 4, 5, 6].flatMap((level) => [
      { tag: `h${level}[data-level]`, priority: 60, getAttrs: (dom: HTMLElement) => ({ level: Number(dom.getAttribute('data-level')) }) },
      { tag: `h${level}`, attrs: { level } },
    ]),
    // The page's own heading is the document's name.
    toDOM: (n) => [`h${Math.min(6, (n.attrs.level as number) + 1)}`, { 'data-level': String(n.attrs.level) }, 0],
  },
  blockquote: { parseDOM: [{ tag: 'blockquote' }], toDOM: () => ['blockquote', 0] },
  code_block: {
    parseDOM: [{ tag: 'pre', preserveWhitespace: 'full' }],
    toDOM: () => ['pre', ['code', 0]],
  },
  rule: { parseDOM: [{ tag: 'hr' }], toDOM: () => ['hr'] },
  task_list: { parseDOM: [{ tag: 'ul[data-tasks]', priority: 60 }], toDOM: () => ['ul', { 'data-tasks': '' }, 0] },
  bullet_list: { parseDOM: [{ tag: 'ul' }], toDOM: () => ['ul', 0] },
  ordered_list: {
    parseDOM: [
      {
        tag: 'ol',
        getAttrs: (dom) => ({
          start: Math.max(0, Number(dom.getAttribute('start') ?? 1) || 1),
          count: /^[1aAiI]$/.exec(text(dom.getAttribute('type')))?.[0] ?? '1',
        }),
      },
    ],
    toDOM: (n) => [
      'ol',
      {
        ...(n.attrs.start === 1 ? {} : { start: String(n.attrs.start) }),
        ...(n.attrs.count === '1' ? {} : { type: n.attrs.count as string }),
      },
      0,
    ],
  },
  task_item: {
    parseDOM: [{ tag: 'li[data-task]', priority: 60, getAttrs: (dom) => ({ done: dom.getAttribute('data-task') === 'done' }) }],
    toDOM: (n) => ['li', { 'data-task': n.attrs.done ? 'done' : 'open' }, 0],
  },
  list_item: { parseDOM: [{ tag: 'li' }], toDOM: () => ['li', 0] },
  table: { parseDOM: [{ tag: 'table' }], toDOM: () => ['table', ['tbody', 0]] },
  table_row: { parseDOM: [{ tag: 'tr' }], toDOM: () => ['tr', 0] },
  table_cell: { parseDOM: [{ tag: 'td', getAttrs: cellAttrs }], toDOM: (n) => ['td', cellDOM(n), 0] },
  table_header: { parseDOM: [{ tag: 'th', getAttrs: cellAttrs }], toDOM: (n) => ['th', cellDOM(n), 0] },
  hard_break: { parseDOM: [{ tag: 'br' }], toDOM: () => ['br'] },
  // Nothing is fetched from elsewhere by looking at a document: a picture that lies there is named.
  picture: {
    toDOM: (n) => [
      'span',
      { class: 'elsewhere', title: text(n.attrs.src as string), 'data-src': n.attrs.src as string, 'data-alt': n.attrs.alt as string },
      `▧ ${text(n.attrs.alt as string) || text(n.attrs.src as string)}`,
    ],
    parseDOM: [
      {
        tag: 'span.elsewhere[data-src]',
        getAttrs: (dom) => ({ src: text(dom.getAttribute('data-src')), alt: text(dom.getAttribute('data-alt')), title: '' }),
      },
    ],
  },
  note: {
    parseDOM: [{ tag: 'span[data-note]', getAttrs: (dom) => ({ text: text(dom.getAttribute('data-note')).slice(0, 5000) }) }],
    toDOM: (n) => ['span', { class: 'note', 'data-note': n.attrs.text as string, title: n.attrs.text as string }, '※'],
  },
  kept: { toDOM: (n) => ['span', keptDOM(n), text(n.attrs.label as string)], parseDOM: [{ tag: 'span[data-kept]', getAttrs: keptAttrs }] },
  kept_block: {
    toDOM: (n) => ['div', keptDOM(n), text(n.attrs.label as string)],
    parseDOM: [{ tag: 'div[data-kept]', getAttrs: keptAttrs }],
  },
  field: {
    toDOM: (n) => [
      'span',
      {
        class: 'field-asked',
        'data-field': n.attrs.id as string,
        'data-kind': n.attrs.kind as string,
        'data-said': JSON.stringify(n.attrs),
        title: text(n.attrs.hint as string) || null,
        ...(n.attrs.must ? { 'data-must': '' } : {}),
      },
      text(n.attrs.value as string) || text(n.attrs.label as string) || '\u2003\u2003',
    ],
    // What is pasted asks something of its own.
    parseDOM: [{ tag: 'span[data-field][data-said]', getAttrs: (dom) => ({ ...fieldSaid(dom.getAttribute('data-said')), id: fieldId() }) }],
  },
}

/** A name for a field that no other has. */
export const fieldId = () => `f${Array.from(crypto.getRandomValues(new Uint8Array(6)), (b) => b.toString(36)).join('')}`

/** What a field can say, as the schema has it: texts of at most so many letters, some of them one of several words. */
const fieldAttrs: Record<string, { validate: string; atMost?: number; among?: string[]; default?: unknown }> = kinds.nodes.field.attrs
/** The kinds of fields. */
export const fieldKinds = kinds.nodes.field.attrs.kind.among
function fieldSaid(raw: string | null): Record<string, unknown> {
  try {
    const said = JSON.parse(raw ?? '') as Record<string, unknown>
    return Object.fromEntries(
      Object.entries(fieldAttrs).flatMap(([name, { validate, atMost, among }]) => {
        const value = name === 'value' ? undefined : said[name]
        if (typeof value !== validate || (among && !among.includes(value as string))) return []
        return [[name, atMost ? (value as string).slice(0, atMost) : value]]
      }),
    )
  } catch {
    return {}
  }
}

/** Addresses a link may lead to; the server refuses others. */
export function leads(href: string): boolean {
  if (!href || /\s/.test(href)) return false
  if (href.startsWith('#')) return true
  try {
    return ['http:', 'https:', 'mailto:', 'tel:'].includes(new URL(href).protocol)
  } catch {
    return false
  }
}

const proposal = (m: Mark) => ({ 'data-id': m.attrs.id as string, 'data-by': m.attrs.by as string })
const markLooks: Record<string, Pick<MarkSpec, 'toDOM' | 'parseDOM'>> = {
  link: {
    parseDOM: [
      {
        tag: 'a[href]',
        getAttrs: (dom) => {
          const href = text(dom.getAttribute('href'))
          return leads(href) && href.length <= 2000 ? { href, title: text(dom.getAttribute('title')).slice(0, 1000) } : false
        },
      },
    ],
    toDOM: (m) => ['a', { href: m.attrs.href as string, title: (m.attrs.title as string) || null, rel: 'noopener noreferrer nofollow' }, 0],
  },
  strong: {
    parseDOM: [
      { tag: 'strong' },
      { tag: 'b', getAttrs: (dom) => dom.style.fontWeight !== 'normal' && null },
      { style: 'font-weight=bold' },
    ],
    toDOM: () => ['strong', 0],
  },
  em: { parseDOM: [{ tag: 'em' }, { tag: 'i' }, { style: 'font-style=italic' }], toDOM: () => ['em', 0] },
  struck: { parseDOM: [{ tag: 's' }, { tag: 'del:not([data-id])' }, { style: 'text-decoration=line-through' }], toDOM: () => ['s', 0] },
  code: { parseDOM: [{ tag: 'code' }], toDOM: () => ['code', { spellcheck: 'false' }, 0] },
  remark: { toDOM: (m) => ['span', { class: 'remarked', 'data-remark': m.attrs.id as string }, 0] },
  // What is proposed does not come along when text is copied: it would be somebody's in another place.
  inserted: { toDOM: (m) => ['ins', proposal(m), 0] },
  deleted: { toDOM: (m) => ['del', proposal(m), 0] },
}

/** The schema of written documents, as the server has it, with how it looks. */
export const schema = new Schema({
  topNode: kinds.topNode,
  nodes: Object.fromEntries(
    Object.entries(kinds.nodes as unknown as Record<string, NodeSpec>).map(([name, spec]) => [name, { ...spec, ...looks[name] }]),
  ),
  marks: Object.fromEntries(
    Object.entries(kinds.marks as unknown as Record<string, MarkSpec>).map(([name, spec]) => [name, { ...spec, ...markLooks[name] }]),
  ),
})
