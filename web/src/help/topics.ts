/** Something that can be read about: in which places it is meant first, and with which keys it is done. */
export interface HelpTopic {
  id: string
  places: string[]
  title: string
  text: string
  keys: [key: string, does: string][]
}

const plain = (s: string) => s.normalize('NFD').replace(/\p{M}/gu, '').toLowerCase()

/** The topics that hold every word that was asked for; without words all, those of the place first. */
export function seek(topics: HelpTopic[], asked: string, place?: string): HelpTopic[] {
  const words = plain(asked).split(/\s+/).filter(Boolean)
  const here = (t: HelpTopic) => (place && t.places.includes(place) ? 0 : t.places.length ? 2 : 1)
  return topics
    .filter((t) => words.every((w) => plain([t.title, t.text, ...t.keys.flat()].join(' ')).includes(w)))
    .sort((a, b) => (words.length ? titled(b, words) - titled(a, words) : here(a) - here(b)))
}
const titled = (t: HelpTopic, words: string[]) => words.filter((w) => plain(t.title).includes(w)).length
