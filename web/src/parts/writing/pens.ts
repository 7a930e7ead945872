import type { Schemas } from '../../api/client'

/** How somebody who is there is told from the others: by a letter and the pattern of a line, never by colour alone. */
export interface Pen {
  page: string
  person: string
  name: string
  short: string
  letter: string
  line: (typeof lines)[number]
  mode: Schemas['WritingMode']
  guest: boolean
}

/** People who are not here, with pens after those who are. */
export function pensBeside(pens: Pen[], authors: Schemas['WritingAuthor'][]): Pen[] {
  const absent = authors.filter((a) => !pens.some((p) => p.person === a.id))
  const people = [...pens.map((p) => ({ id: p.person, name: p.name })), ...absent]
  return pensOf(
    people.map((p) => ({ ...p, page: p.id, mode: 'look' as const, since: '' })),
    pens[0]?.person ?? '',
  )
}

const lines = ['one', 'dash', 'dot', 'double', 'thick', 'longdash'] as const

/** Everybody who is there, each once, me first; who has several pages open is there with the first. */
export function pensOf(people: Schemas['WritingPerson'][], me: string): Pen[] {
  const seen = new Map<string, Pen>()
  const letters = new Set<string>()
  const inOrder = [...people].sort((a, b) => Number(b.id === me) - Number(a.id === me))
  for (const p of inOrder) {
    if (seen.has(p.id)) continue
    const words = p.name.split(/\s+/).filter(Boolean)
    const first = [...(words[0] ?? '?')]
    const letter =
      [first[0]!, [...(words.at(-1) ?? '')][0] ?? '', first[1] ?? ''].find((l) => l && !letters.has(l.toUpperCase())) ?? first[0]!
    letters.add(letter.toUpperCase())
    seen.set(p.id, {
      page: p.page,
      person: p.id,
      name: p.name,
      short: words[0] ?? p.name,
      letter: letter.toUpperCase(),
      line: lines[seen.size % lines.length]!,
      mode: p.mode,
      guest: p.guest ?? false,
    })
  }
  return [...seen.values()]
}
