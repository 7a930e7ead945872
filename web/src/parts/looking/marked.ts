import { watchPostEffect, type Ref } from 'vue'

/** Marks words in a text that is shown, and brings the first of them into sight. The text itself stays as it is. */
export function useMarkedWords(within: Ref<HTMLElement | undefined>, words: () => string[]): void {
  watchPostEffect((onCleanup) => {
    const region = within.value
    const all = words().map((w) => w.toLowerCase())
    if (!region || !all.length || !('highlights' in CSS)) return
    const found: Range[] = []
    const texts = document.createTreeWalker(region, NodeFilter.SHOW_TEXT)
    while (texts.nextNode() && found.length < mostMarked) found.push(...rangesIn(texts.currentNode as Text, all))
    CSS.highlights.set('sought', new Highlight(...found))
    found[0]?.startContainer.parentElement?.scrollIntoView({ block: 'center' })
    onCleanup(() => CSS.highlights.delete('sought'))
  })
}

const mostMarked = 2000

/** Where whole words stand in a text. */
function rangesIn(node: Text, words: string[]): Range[] {
  const text = node.data.toLowerCase()
  const found: Range[] = []
  for (const word of words) {
    for (let at = text.indexOf(word); at >= 0; at = text.indexOf(word, at + word.length)) {
      if (isLetter(text[at - 1]) || isLetter(text[at + word.length])) continue
      const range = document.createRange()
      range.setStart(node, at)
      range.setEnd(node, at + word.length)
      found.push(range)
    }
  }
  return found
}

const isLetter = (c?: string) => !!c && /[\p{L}\p{N}]/u.test(c)
