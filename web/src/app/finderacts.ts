import { useI18n } from 'vue-i18n'

/** What can be done with a document whose name or number follows, and what needs none. */
const acts = ['giveOut', 'letIn', 'move', 'copy', 'checkOut', 'remove', 'make'] as const
const places = ['makeDossier'] as const
export type FinderAct = (typeof acts)[number]
const least = 3

/** Words and the act that they begin with: "give out 029". In either language, as one types. */
export function useFinderActs() {
  const { messages } = useI18n()
  const phrases = (name: string) =>
    Object.values(messages.value as Record<string, { finder: { acts: Record<string, string> } }>).flatMap((m) => {
      const phrase = m.finder.acts[name]
      return phrase ? [phrase.toLowerCase()] : []
    })

  /** The act that is typed, and what of it; undefined where the words are none. The longest phrase counts. */
  function typed(words: string): { act: FinderAct; of: string } | undefined {
    const text = words.trim().replace(/\s+/g, ' ')
    const lower = text.toLowerCase()
    const all = acts.flatMap((act) => phrases(act).map((phrase) => ({ act, phrase })))
    all.sort((a, b) => b.phrase.length - a.phrase.length)
    const whole = all.find(({ phrase }) => lower === phrase || lower.startsWith(`${phrase} `))
    return whole && { act: whole.act, of: text.slice(whole.phrase.length).trim() }
  }
  /** Acts that could be meant by what is typed so far. */
  function begun(words: string): (FinderAct | (typeof places)[number])[] {
    const lower = words.trim().toLowerCase()
    if (lower.length < least) return []
    return [...acts, ...places].filter((name) => phrases(name).some((p) => p.startsWith(lower)))
  }
  return { typed, begun }
}
