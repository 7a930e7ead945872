import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { inPortions, useDoneWords, type Done } from '../../app/many'
import { stemOf } from '../../i18n/words'

/** Deletes things, with a way back, and brings back what was deleted. */
export function useDeletion() {
  const { t } = useI18n()
  const doing = useAct()
  const partly = useDoneWords()

  const back = async (all: string[], links: boolean) =>
    (await inPortions(all, (ids) => data(api.POST('/deletions/return', { body: { ids, links } })))).answers.flat()
  /** What is said of things that are there again. */
  function cameBack(all: Schemas['BroughtBack'][]) {
    const [one] = all
    if (!one || all.length > 1) return t('deletion.backMany', { n: all.length })
    return t(one.renamed ? 'deletion.backAs' : 'deletion.back', { what: stemOf(one.name) })
  }

  /** Whoever could give it out brings it back with its links. What is shown of it is left first, before it is asked for anew. */
  async function remove(ids: string[], what: string, share: boolean, reason: string | undefined, leave: () => void): Promise<boolean> {
    let made: Done<string[]>
    const gone = async () => {
      made = await inPortions(ids, async (items) => (await data(api.POST('/deletions', { body: { items, reason } }))).ids)
      leave()
    }
    return doing.act(gone, {
      done: () => partly(made, t('deletion.deleted', { what }, ids.length)),
      undo: { do: () => back(made.answers.flat(), share), done: t('deletion.asBefore', { what }, ids.length) },
    })
  }
  function bringBack(ids: string[], links = false) {
    let there: Schemas['BroughtBack'][] = []
    return doing.act(async () => (there = await back(ids, links)), { done: () => cameBack(there), aloud: true })
  }
  const ask = (id: string, what: string) =>
    doing.act(() => api.POST('/deletions/{id}/request', { params: { path: { id } } }), {
      done: t('deletion.asked', { what: stemOf(what) }),
      aloud: true,
    })
  const destroy = (ids: string[], code: string) =>
    doing.act(() => api.POST('/deletions/destruction', { body: { ids, code } }), { done: t('deletion.destroyed') })

  return { ...doing, remove, bringBack, ask, destroy }
}
