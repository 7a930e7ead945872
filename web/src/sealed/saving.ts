import { opened, type Sealed } from './opening'

interface Picks {
  showSaveFilePicker: (o: { suggestedName: string }) => Promise<{ createWritable: () => Promise<WritableStream<Uint8Array>> }>
}
const picks = (w: unknown): w is Picks => typeof (w as Picks).showSaveFilePicker === 'function'

/** How a page itself can put on the disk what is larger than its memory holds: into a chosen place while it comes, or not at all. */
export const wayOfPage = (): 'picker' | 'memory' => (picks(window) ? 'picker' : 'memory')

/** Up to how many bytes a browser holds in its memory reliably. */
export const mostInMemory = 256 * 1024 * 1024

/** Saves a sealed file opened. It resolves when all of it is saved, or the browser has taken it over. */
export async function saveByPage(file: Sealed & { name: string }): Promise<void> {
  if (file.size > mostInMemory && picks(window)) {
    const place = await window.showSaveFilePicker({ suggestedName: file.name })
    // What is not whole is not left there: a file appears when it is closed.
    return opened(file).pipeTo(await place.createWritable())
  }
  saveBlob(await new Response(opened(file)).blob(), file.name)
}

/** Lets the browser save what the page has in its memory. */
export function saveBlob(content: Blob, name: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(content)
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 60_000)
}
