import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import type { Place } from '../../queries/remarks'

/** Says, changes, settles and ticks remarks on a thing. */
export function useTalk(item: () => string) {
  const { t } = useI18n()
  const doing = useAct()
  const path = (id: string) => ({ params: { path: { id } } })

  interface Saying {
    text: string
    mentions: string[]
    thread?: string
    place?: Place
    version?: number
  }
  /** Says something, and answers with its id. */
  async function say(body: Saying): Promise<string | undefined> {
    let id: string | undefined
    await doing.act(async () => (id = (await data(api.POST('/items/{id}/remarks', { ...path(item()), body }))).id))
    return id
  }
  const edit = (id: string, text: string, mentions: string[]) =>
    doing.act(() => api.PUT('/remarks/{id}', { ...path(id), body: { text, mentions } }))
  const remove = (id: string) => doing.act(() => api.DELETE('/remarks/{id}', path(id)), { done: t('remarks.removed'), aloud: true })
  function settle(id: string, done: boolean) {
    const set = (yes: boolean) => (yes ? api.PUT('/remarks/{id}/resolution', path(id)) : api.DELETE('/remarks/{id}/resolution', path(id)))
    return doing.act(() => set(done), {
      done: t(done ? 'remarks.settled' : 'remarks.opened'),
      undo: { do: () => set(!done), done: t(done ? 'remarks.opened' : 'remarks.settled') },
      aloud: true,
    })
  }
  const tick = (id: string, on: boolean) =>
    doing.act(() => (on ? api.PUT('/remarks/{id}/tick', path(id)) : api.DELETE('/remarks/{id}/tick', path(id))), { aloud: true })
  const seen = () => api.PUT('/items/{id}/remarks/seen', path(item()))
  return { ...doing, say, edit, remove, settle, tick, seen }
}

/** Where a remark stands, in words. */
export function usePlaceWords() {
  const { t } = useI18n()
  return (place: Schemas['RemarkPlace'] | undefined): string => {
    if (!place) return ''
    const words: string[] = []
    if (place.page) words.push(t('remarks.onPage', { n: place.page }))
    if (place.kind === 'cell') words.push(t('remarks.atCell', { sheet: place.sheet ?? '', row: place.row, column: place.column }))
    if (place.kind === 'point') words.push(t('remarks.aPoint'))
    if (place.kind === 'area') words.push(t('remarks.anArea'))
    if (place.words) words.push(`“${place.words.length > 90 ? `${place.words.slice(0, 88)} …` : place.words}”`)
    return words.join(', ')
  }
}
