/** Which pages of which content have been looked at in this window: they are noted with a decision on it. */
const seen = new Map<string, Set<number>>()
const key = (document: string, version: number) => `${document} ${version}`

export function notePages(document: string, version: number, pages: number[]) {
  const all = seen.get(key(document, version)) ?? new Set<number>()
  for (const n of pages) all.add(n)
  seen.set(key(document, version), all)
}

export const pagesSeen = (document: string, version: number) => [...(seen.get(key(document, version)) ?? [])].sort((a, b) => a - b)
