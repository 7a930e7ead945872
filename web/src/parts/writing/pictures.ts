import type { Node } from 'prosemirror-model'
import type { NodeView } from 'prosemirror-view'
import { sendFile, type Schemas } from '../../api/client'

/** Lays a picture beside a text, in its folder, or puts it into its document; answers under which name. */
export async function putPicture(pictures: string, file: File, inWord: boolean): Promise<string> {
  const body = inWord ? await asDocumentsHold(file) : file
  return (await sendFile<Schemas['NewName']>(`${pictures}?name=${encodeURIComponent(file.name)}`, body)).name
}

/** How large a picture may be that is put into a document as it is, and how long its longer side becomes otherwise. */
const [mostBytes, longSide] = [2_000_000, 2400]

/** A picture in a form that every program for documents shows, and not larger than a page needs. */
async function asDocumentsHold(file: File): Promise<Blob> {
  if (file.size <= mostBytes && ['image/png', 'image/jpeg', 'image/gif'].includes(file.type)) return file
  try {
    const picture = await createImageBitmap(file)
    const by = Math.min(1, longSide / Math.max(picture.width, picture.height))
    const canvas = new OffscreenCanvas(Math.max(1, picture.width * by), Math.max(1, picture.height * by))
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height)
    return await canvas.convertToBlob(file.type === 'image/jpeg' ? { type: 'image/jpeg', quality: 0.9 } : { type: 'image/png' })
  } catch {
    return file // The server says what is wrong with it.
  }
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
