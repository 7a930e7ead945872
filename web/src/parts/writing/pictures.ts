import type { Node } from 'prosemirror-model'
import type { NodeView } from 'prosemirror-view'
import { Refusal } from '../../api/client'

/** Lays a picture beside a text, in its folder; answers under which name. */
export async function putPicture(document: string, file: File): Promise<string> {
  const answer = await fetch(`/api/documents/${document}/writing/pictures?name=${encodeURIComponent(file.name)}`, {
    method: 'POST',
    body: file,
  })
  const said: unknown = await answer.json()
  if (!answer.ok) throw new Refusal(said as ConstructorParameters<typeof Refusal>[0])
  return (said as { name: string }).name
}

/** A picture that lies beside the text is shown; one that lies elsewhere is named, and not fetched. */
export function pictureBeside(beside: string | undefined, node: Node): NodeView {
  const src = node.attrs.src as string
  const alt = (node.attrs.alt as string) || src
  if (!beside || /^[a-z][a-z0-9+.-]*:|^\/|\//i.test(src)) return named(alt, src)
  return pictureAt(`${beside}/${src}`, alt, () => named(alt, src).dom)
}

/** A picture in a text; something else where it cannot be shown. */
export function pictureAt(src: string, alt: string, otherwise: () => HTMLElement): { dom: HTMLImageElement } {
  const dom = document.createElement('img')
  dom.className = 'picture'
  dom.alt = alt
  dom.src = src
  dom.addEventListener('error', () => dom.replaceWith(otherwise()))
  return { dom }
}

function named(alt: string, src: string): { dom: HTMLElement } {
  const dom = document.createElement('span')
  dom.className = 'elsewhere'
  dom.title = src
  dom.textContent = `▧ ${alt}`
  return { dom }
}
