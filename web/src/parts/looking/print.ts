import { ref } from 'vue'
import type { LookWord } from './word'

/**
 * Prints pictures of pages, one on a sheet. They are made one after the other, each as an address of a picture, and thrown
 * away afterwards.
 */
async function printPages(pages: number, draw: (n: number) => Promise<string>, told: (n: number) => void): Promise<void> {
  const paper = document.createElement('div')
  paper.className = 'print-paper'
  const made: string[] = []
  try {
    for (let n = 1; n <= pages; n++) {
      told(n)
      const picture = new Image()
      picture.src = await draw(n)
      made.push(picture.src)
      await picture.decode()
      paper.append(picture)
    }
    document.body.append(paper)
    print()
  } finally {
    paper.remove()
    made.filter((m) => m.startsWith('blob:')).forEach((m) => URL.revokeObjectURL(m))
  }
}

/** Printing a document's pages, with what is said while they are made. */
export function usePrinting(word: LookWord, pages: () => number, draw: (n: number) => Promise<string>, failed: () => void) {
  const busy = ref('')
  async function print() {
    const of = pages()
    await printPages(of, draw, (n) => (busy.value = word('printing', { n, of }))).catch(failed)
    busy.value = ''
  }
  return { busy, print }
}
