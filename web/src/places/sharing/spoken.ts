import type { Schemas } from '../../api/client'
import { likelyOf } from '../../queries/sharing'
import { readTerms } from '../../queries/terms'

/** An address that somebody can be invited by. */
export const isAddress = (text: string) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text.trim())

/** Whether what was typed are beginnings of somebody's names. */
const named = (name: string, typed: string) => {
  const names = name.toLowerCase().split(/\s+/)
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((word) => names.some((n) => n.startsWith(word)))
}

/**
 * People and terms that were typed together, with commas between them: "Sunniva, edit, a week". Who is not one alone among
 * those who may be meant, and what means nothing, is left as it is.
 */
export async function readSpoken(items: string[], text: string, language: 'en' | 'de') {
  const terms: Schemas['TypedTerms'][] = []
  const people: ({ email: string } | Schemas['Suggested'])[] = []
  const left: string[] = []
  for (const part of text.split(',').map((p) => p.trim())) {
    if (!part) continue
    const read = await readTerms(part, language, 'access').catch(() => undefined)
    if (read?.understood && read.pieces.some((p) => p.term)) {
      terms.push(read)
      continue
    }
    const likely = await likelyOf(items, part).catch(() => [])
    const meant = likely.filter((s) => named(s.name, part) || s.email === part.toLowerCase())
    if (meant.length === 1) people.push(meant[0])
    else if (!meant.length && isAddress(part)) people.push({ email: part })
    else left.push(part)
  }
  return { terms, people, left: left.join(', ') }
}
