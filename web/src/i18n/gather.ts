/** Words in groups: what one capability says in one language. */
export type Words = { [key: string]: string | Words }

/**
 * Gathers what the capabilities say to one whole. A group that several of them know,
 * as that of the refusals, holds the words of all.
 */
export function gather(files: Record<string, Words>): Words {
  const all: Words = {}
  for (const words of Object.values(files)) {
    for (const [group, said] of Object.entries(words)) {
      const before = all[group]
      all[group] = typeof said === 'object' && typeof before === 'object' ? { ...before, ...said } : said
    }
  }
  return all
}
