import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { tell } from '../../app/toasts'
import { useTray } from '../../uploads/tray'

/** What is done with the versions of a document. */
export function useVersions(document: () => string) {
  const { t } = useI18n()
  const doing = useAct()
  const tray = useTray()
  const path = (number: number) => ({ params: { path: { id: document(), number } } })
  const removed = (n: number) => api.DELETE('/documents/{id}/versions/{number}', path(n))
  const restored = (n: number) => api.POST('/documents/{id}/versions/{number}/restoration', path(n))

  const bringBack = (n: number) =>
    doing.act(
      async () => {
        const made = await data(api.POST('/documents/{id}/versions/{number}/return', path(n)))
        tell(t('versions.broughtBack', { n, now: made.number }), {
          label: t('common.undo'),
          do: () => void doing.act(() => removed(made.number), { done: t('versions.asBefore'), aloud: true }),
        })
      },
      { aloud: true },
    )
  const remove = (n: number) =>
    doing.act(() => removed(n), {
      done: t('versions.removedIt', { n }),
      undo: { do: () => restored(n), done: t('versions.restored', { n }) },
      aloud: true,
    })
  const restore = (n: number) => doing.act(() => restored(n), { done: t('versions.restored', { n }), aloud: true })
  const describe = (n: number, words: Schemas['VersionWords']) =>
    doing.act(() => api.PATCH('/documents/{id}/versions/{number}', { ...path(n), body: words }), { done: t('versions.said', { n }) })
  const keepApart = (n: number) =>
    doing.act(
      async () => {
        const place = await data(api.POST('/documents/{id}/versions/{number}/separation', path(n)))
        tell(t('slip.separated', { ref: place.ref }))
      },
      { aloud: true },
    )
  /** A file of whatever name, with what is said of it. */
  const add = (file: File, note: string) => tray.revise(document(), file, note)

  return { ...doing, bringBack, remove, restore, describe, keepApart, add }
}
