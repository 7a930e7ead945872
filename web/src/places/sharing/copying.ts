import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'

/**
 * Copies things, and takes the copies back by one act where whoever copies may delete them: their own documents, and folders
 * where they may delete. Says whether it did.
 */
export function useCopying() {
  const { t } = useI18n()
  const { act } = useAct()
  return (body: Schemas['Move'], names: string[], to: string, undoable: boolean) => {
    const what = names.length === 1 ? stemOf(names[0]!) : t('move.things', { n: names.length })
    let made: Schemas['Copies'] | undefined
    const said = () =>
      [t('copy.done', { what, to }), made?.left ? t('copy.left', { n: made.left }, made.left) : ''].filter(Boolean).join(' ')
    return act(async () => (made = await data(api.POST('/items/copy', { body }))), {
      done: said,
      undo: undoable
        ? { do: () => api.POST('/deletions', { body: { items: made?.items ?? [] } }), done: t('copy.undone', { what }) }
        : undefined,
      aloud: true,
    })
  }
}
