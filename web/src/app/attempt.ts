import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { tell } from './notices'
import { useSaid } from '../sentences/said'

/**
 * Acts of one place. What an act did is told; either way what is shown is asked for anew, as a
 * refusal often means that it was no longer so. The answer says whether the act was done.
 */
export function useAttempt() {
  const said = useSaid()
  const queries = useQueryClient()
  const wrong = ref('')

  async function run(act: () => Promise<unknown>, refused: (why: string) => void, done?: string): Promise<boolean> {
    let did = true
    try {
      await act()
      if (done) tell(done)
    } catch (e) {
      did = false
      refused(said.problem(e))
    }
    await queries.invalidateQueries()
    return did
  }

  return {
    /** Why the last attempt was refused, for the place to show beside the act. */
    wrong,
    attempt: (act: () => Promise<unknown>, done?: string) => {
      wrong.value = ''
      return run(act, (why) => (wrong.value = why), done)
    },
    /** For acts with no place of their own for a refusal: it is told like what was done. */
    attemptAloud: (act: () => Promise<unknown>, done: string) => run(act, tell, done),
  }
}
