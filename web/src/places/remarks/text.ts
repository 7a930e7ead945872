import MarkdownIt from 'markdown-it'
import type { Schemas } from '../../api/client'

/** Markdown without HTML and pictures: what people write is text, and leads nowhere by itself. */
const markdown = new MarkdownIt({ html: false, linkify: false, breaks: true }).disable(['image', 'table'])
markdown.renderer.rules.link_open = (tokens, i, options, _, self) => {
  tokens[i].attrSet('rel', 'noopener noreferrer nofollow')
  tokens[i].attrSet('target', '_blank')
  return self.renderToken(tokens, i, options)
}
/** Headings of a remark are no headings of the page. */
markdown.renderer.rules.heading_open = () => '<p><b>'
markdown.renderer.rules.heading_close = () => '</b></p>'

const escaped = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')

/** A remark's text as safe HTML; the names of those whom it names stand out. */
export function shown(remark: Schemas['Remark']): string {
  const html = markdown.render(remark.text)
  const names = remark.mentions.map((p) => p.name)
  if (!names.length) return html
  const known = new RegExp(`@(${names.map((n) => escaped(markdown.utils.escapeHtml(n))).join('|')})`, 'g')
  // Names are marked in what is written, not within tags.
  return html.replace(
    /(<[^>]*>)|([^<]+)/g,
    (_, tag: string | undefined, words: string | undefined) => tag ?? (words ?? '').replace(known, '<b class="named">@$1</b>'),
  )
}
