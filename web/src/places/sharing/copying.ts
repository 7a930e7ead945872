import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { inPortions, useDoneWords, type Done } from '../../app/many'
import { stemOf } from '../../i18n/words'

/**
 * Copies things, and takes the copies back by one act where whoever copies may delete them: their own documents, and folders
 * where they may delete. Says whether it did.
 */
export function useCopying() {
  const { t } = useI18n()
  const { act } = useAct()
  const partly = useDoneWords()
  return (body: Schemas['Move'], names: string[], to: string, undoable: boolean) => {
    const what = names.length === 1 ? stemOf(names[0]!) : t('move.things', { n: names.length })
    let made: Done<Schemas['Copies']>
    const said = () => {
      const left = made.answers.reduce((sum, m) => sum + (m.left ?? 0), 0)
      return [partly(made, t('copy.done', { what, to }, names.length)), left ? t('copy.left', { n: left }, left) : '']
        .filter(Boolean)
        .join(' ')
    }
    const some = (items: string[]) => data(api.POST('/items/copy', { body: { ...body, items } }))
    const takeAway = (items: string[]) => api.POST('/deletions', { body: { items } })
    return act(async () => (made = await inPortions(body.items, some)), {
      done: said,
      undo: undoable
        ? {
            do: () =>
              inPortions(
                made.answers.flatMap((m) => m.items),
                takeAway,
              ),
            done: t('copy.undone', { what }),
          }
        : undefined,
      aloud: true,
    })
  }
}
