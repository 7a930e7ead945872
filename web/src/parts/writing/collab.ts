import { getVersion, receiveTransaction, sendableSteps } from 'prosemirror-collab'
import type { EditorState, Transaction } from 'prosemirror-state'
import { Step } from 'prosemirror-transform'
import type { Script } from './line'
import { schema } from './schema'

interface StepJSON {
  stepType: string
  steps?: StepJSON[]
}

/** What undoes a set of marks twice is a set within a set, which is sent flat: nobody would read it otherwise. */
const flat = (s: StepJSON): StepJSON =>
  s.stepType === 'markSet' ? { ...s, steps: (s.steps ?? []).flatMap((i) => flat(i).steps ?? [i]) } : s
const asJSON = (s: Step) => flat(s.toJSON() as StepJSON)

/** A text in the editor, as far as the line to the server goes. */
export function textScript(page: string, state: () => EditorState, apply: (tr: Transaction) => void): Script {
  return {
    version: () => getVersion(state()),
    sendable: () => {
      const s = sendableSteps(state())
      return s ? { version: s.version, steps: s.steps.slice(0, 500).map(asJSON) } : undefined
    },
    take: (b) => {
      if (b.page === page) {
        // My own come as the server carried them, which must be as I did.
        const mine = sendableSteps(state())?.steps.slice(0, b.steps.length).map(asJSON)
        if (!mine || !same(mine, b.steps)) throw new Error('carried otherwise')
      }
      const steps = b.steps.map((s) => Step.fromJSON(schema, s))
      const tr = receiveTransaction(
        state(),
        steps,
        steps.map(() => b.page),
        { mapSelectionBackward: true },
      )
      tr.doc.check()
      apply(tr)
    },
    caret: () => {
      const { anchor, head } = state().selection
      // The version once what is under way stands: before it, the place would be another one.
      return { version: getVersion(state()) + (sendableSteps(state())?.steps.length ?? 0), anchor, head }
    },
  }
}

/** Whether steps are the same, in whatever order their parts are written. */
function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || !a || !b || Array.isArray(a) !== Array.isArray(b)) return false
  const [x, y] = [a as Record<string, unknown>, b as Record<string, unknown>]
  const keys = Object.keys(x).filter((k) => x[k] !== undefined)
  return keys.length === Object.keys(y).filter((k) => y[k] !== undefined).length && keys.every((k) => same(x[k], y[k]))
}
