import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { Refusal } from '../api/client'
import { useSaid } from '../sentences/said'
import { tell } from './toasts'

/** The way back from an act: what takes it back, and what is said then. */
interface Undo {
  do: () => Promise<unknown>
  done: string
}

/** What is said of an act: that it was done, perhaps with a way back; and whether a refusal is told like that too. */
interface Saying {
  /** Words, or how they are found once it is known what came of it. */
  done?: string | (() => string)
  undo?: Undo
  /** For acts with no place of their own for a refusal. */
  aloud?: boolean
}

/**
 * The one way to do an act: while it runs it is busy and is not begun again, what was done is told, and what was refused
 * stands beside it. Either way what is shown is asked for anew, as a refusal often means that it was no longer so; apart
 * from those acts by which one comes in: nothing else is shown then.
 */
export function useAct({ apart = false } = {}) {
  const said = useSaid()
  const { t } = useI18n()
  const queries = useQueryClient()
  const wrong = ref('')
  /** The input at which it failed, where it was one. */
  const field = ref<string>()
  const busy = ref(false)

  /** Does an act, and says whether it was done. */
  async function act(fn: () => Promise<unknown>, saying: Saying = {}): Promise<boolean> {
    if (busy.value) return false
    busy.value = true
    wrong.value = ''
    field.value = undefined
    let did = true
    try {
      await fn()
      const done = typeof saying.done === 'function' ? saying.done() : saying.done
      if (done) tell(done, saying.undo && wayBack(saying.undo))
    } catch (e) {
      did = false
      if (e instanceof Refusal) field.value = e.problem.field
      if (saying.aloud) tell(said.problem(e))
      else wrong.value = said.problem(e)
    }
    busy.value = false
    // What is being written is not asked for anew: nothing of it has changed by being done.
    if (!apart) await queries.invalidateQueries({ predicate: (q) => q.queryKey[1] !== 'draft' })
    return did
  }

  const wayBack = (undo: Undo) => ({
    label: t('common.undo'),
    do: () => void act(undo.do, { done: undo.done, aloud: true }),
  })

  return { act, busy, wrong, field }
}
