import { reactive } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSaid } from '../sentences/said'

/** How many things go with one request: as many as are done in about a second or two, so that one sees it go on. */
const portion = 200

/** What runs for many things just now: how far it is, and the way to stop it between two portions. */
export const progress = reactive<{ current?: { did: number; all: number; stopping: boolean } }>({})

/** What came of an act on many things: the answers to its portions, what it was done with, and why not with the rest. */
export interface Done<R> {
  answers: R[]
  things: string[]
  left: number
  why?: unknown
}

/**
 * Does something with many things, portion by portion. Each portion is one act for itself: where one is refused, or it is
 * stopped, those before remain done. Throws where nothing was done.
 */
export async function inPortions<R>(all: string[], act: (some: string[]) => Promise<R>): Promise<Done<R>> {
  const done: Done<R> = { answers: [], things: [], left: all.length }
  try {
    while (done.left && !progress.current?.stopping) {
      if (all.length > portion) progress.current = { did: done.things.length, all: all.length, stopping: false }
      const some = all.slice(done.things.length, done.things.length + portion)
      done.answers.push(await act(some))
      done.things.push(...some)
      done.left = all.length - done.things.length
    }
  } catch (e) {
    if (!done.things.length) throw e
    done.why = e
  } finally {
    progress.current = undefined
  }
  return done
}

/** What is said of it: that it was done, or with how many, and why not with the rest. */
export function useDoneWords() {
  const { t } = useI18n()
  const said = useSaid()
  return <R>(done: Done<R>, words: string) => {
    if (!done.left) return words
    const partly = t('common.partly', { n: done.things.length, all: done.things.length + done.left })
    return done.why ? `${partly} ${said.problem(done.why)}` : partly
  }
}
