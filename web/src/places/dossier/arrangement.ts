import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { api, type Schemas } from '../../api/client'
import { dossierKeys, orderQuery, type RegisterGroup, type RegisterOrder } from '../../queries/dossiers'
import { useParticulars, type Particular } from '../../queries/particulars'

/** Columns of a register itself. */
export const ownColumns = ['state', 'size', 'kind', 'person', 'tags', 'version', 'event'] as const
export type OwnColumn = (typeof ownColumns)[number]

/** A column: one of the register's own, or a particular. */
export type Column = { id: OwnColumn; particular?: undefined } | { id: string; particular: Particular }

const usual: string[] = ['state', 'size', 'version', 'event']
/** How many columns there are at most; where there is little width, of those that are not always there. */
const most = 9
const little = { columns: 1 }

type Kept = Schemas['Arrangement']
const orderOf = (a?: Kept): RegisterOrder =>
  `${a?.order === 'particular' ? `by ${a.particular}` : (a?.order ?? 'event')}${a?.down ? ' down' : ''}` as RegisterOrder
const groupOf = (a?: Kept): RegisterGroup => (a?.group === 'particular' ? `by ${a.grouped}` : (a?.group ?? '')) as RegisterGroup

/** How somebody reads a folder's register: kept with their account, for each folder. */
export function useArrangement(
  folder: MaybeRefOrGetter<{ id: string; code: string; kept?: Kept }>,
  narrow: MaybeRefOrGetter<boolean>,
  /** One looks as somebody else: nothing is kept. */
  still: MaybeRefOrGetter<boolean>,
) {
  const { data: defined } = useParticulars()
  const queries = useQueryClient()
  const now = ref<Kept>({})
  /** What is being kept, and what waits for that. */
  let keeping: Promise<unknown> = Promise.resolve()
  let waiting: { id: string; body: Kept } | undefined
  watch(
    () => toValue(folder).id,
    () => (now.value = toValue(folder).kept ?? {}),
    { immediate: true, flush: 'sync' },
  )
  function set(more: Kept) {
    now.value = { ...now.value, ...more }
    if (toValue(still)) return
    const { id, code } = toValue(folder)
    if (waiting?.id === id) waiting.body = now.value
    else {
      const mine = (waiting = { id, body: now.value })
      // One after the other: what was chosen last is what is kept.
      keeping = keeping
        .catch(() => undefined)
        .then(() => {
          if (waiting === mine) waiting = undefined
          return api.PUT('/folders/{id}/arrangement', { params: { path: { id } }, body: mine.body })
        })
        // Whoever comes back to the folder finds it so.
        .then(() => queries.invalidateQueries({ queryKey: [...dossierKeys.of(code), 'contents'] }))
    }
  }
  const isDefined = (id: string) => !defined.value || defined.value.some((p) => p.id === id)
  const order = computed<RegisterOrder>({
    // An order by what is no longer defined is none.
    get: () => (now.value.order === 'particular' && !isDefined(now.value.particular ?? '') ? 'event' : orderOf(now.value)),
    set: (o) => {
      const { order, particular, down } = orderQuery(o)
      set({ order, particular, down })
    },
  })
  const group = computed<RegisterGroup>({
    get: () => (now.value.group === 'particular' && !isDefined(now.value.grouped ?? '') ? '' : groupOf(now.value)),
    set: (g) =>
      set(
        g.startsWith('by ')
          ? { group: 'particular', grouped: g.slice(3) }
          : { group: (g || undefined) as Kept['group'], grouped: undefined },
      ),
  })
  const pictures = computed({ get: () => !!now.value.pictures, set: (p) => set({ pictures: p || undefined }) })
  /** The ids of columns, in order. */
  const chosen = computed<string[]>({
    get: () => now.value.columns ?? usual,
    set: (c) => set({ columns: c.join() === usual.join() ? undefined : c.slice(-most) }),
  })
  const columns = computed<Column[]>(() => {
    const all = chosen.value.flatMap((id): Column[] => {
      if ((ownColumns as readonly string[]).includes(id)) return [{ id: id as OwnColumn }]
      const particular = defined.value?.find((p) => p.id === id)
      return particular ? [{ id, particular }] : []
    })
    if (!toValue(narrow)) return all
    // Where there is little width: what was chosen beside the usual ones, and the last event.
    const more = all.filter((c) => !usual.includes(c.id)).slice(0, little.columns)
    return all.filter((c) => more.includes(c) || c.id === 'state' || c.id === 'version' || c.id === 'event')
  })
  return { defined, order, group, pictures, chosen, columns }
}
