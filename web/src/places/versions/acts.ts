import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useTray } from '../../uploads/tray'

/** What is done with the versions of a document. */
export function useVersions(document: () => string) {
  const { t } = useI18n()
  const doing = useAct()
  const tray = useTray()
  const path = (number: number) => ({ params: { path: { id: document(), number } } })
  const removed = (n: number) => api.DELETE('/documents/{id}/versions/{number}', path(n))
  const restored = (n: number) => api.POST('/documents/{id}/versions/{number}/restoration', path(n))

  function bringBack(n: number) {
    let now = 0
    return doing.act(async () => (now = (await data(api.POST('/documents/{id}/versions/{number}/return', path(n)))).number), {
      done: () => t('versions.broughtBack', { n, now }),
      undo: { do: () => removed(now), done: t('versions.asBefore') },
      aloud: true,
    })
  }
  const remove = (n: number) =>
    doing.act(() => removed(n), {
      done: t('versions.removedIt', { n }),
      undo: { do: () => restored(n), done: t('versions.restored', { n }) },
      aloud: true,
    })
  const restore = (n: number) => doing.act(() => restored(n), { done: t('versions.restored', { n }), aloud: true })
  const describe = (n: number, words: Schemas['VersionWords']) =>
    doing.act(() => api.PATCH('/documents/{id}/versions/{number}', { ...path(n), body: words }), { done: t('versions.said', { n }) })
  function keepApart(n: number) {
    let ref = ''
    return doing.act(async () => (ref = (await data(api.POST('/documents/{id}/versions/{number}/separation', path(n)))).ref), {
      done: () => t('slip.separated', { ref }),
      aloud: true,
    })
  }
  /** A file of whatever name, with what is said of it. */
  const add = (file: File, note: string) => tray.revise(document(), file, note)

  return { ...doing, bringBack, remove, restore, describe, keepApart, add }
}
