import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** Dossiers, and what lies in them. Everything of one dossier begins with its code. */
export const dossierKeys = {
  all: ['dossiers'] as const,
  list: ['dossiers', 'list'] as const,
  desk: ['dossiers', 'desk'] as const,
  of: (code: string) => ['dossiers', 'of', code] as const,
}

type Getter<T> = MaybeRefOrGetter<T>

export function useDossiers() {
  return useQuery({ queryKey: dossierKeys.list, queryFn: () => data(api.GET('/dossiers')) })
}

/** One's own desk; guests have none. */
export function useDesk(enabled: Getter<boolean>) {
  return useQuery({ queryKey: dossierKeys.desk, queryFn: () => data(api.POST('/desk')), enabled: computed(() => toValue(enabled)) })
}

/** A dossier, perhaps as somebody else sees it, or with what they do not see. */
export function useDossier(
  code: Getter<string>,
  as?: Getter<string | undefined>,
  compare?: Getter<boolean>,
  enabled: Getter<boolean> = true,
) {
  const query = computed(() => ({ as: toValue(as), compare: toValue(compare) || undefined }))
  return useQuery({
    queryKey: computed(() => [...dossierKeys.of(toValue(code)), 'contents', query.value]),
    queryFn: () => data(api.GET('/dossiers/{code}', { params: { path: { code: toValue(code) }, query: query.value } })),
    enabled: computed(() => toValue(enabled)),
  })
}

/** An order of the register that it has itself. */
export type OwnOrder = Exclude<Schemas['RegisterOrder'], 'particular'>
/** An order of the register: one of its own, or by the values of a particular, perhaps the other way round. */
export type RegisterOrder = OwnOrder | `${OwnOrder} down` | `by ${string}`
/** By what documents stand together: by nothing, or by the values of a particular, too. */
export type RegisterGroup = '' | Exclude<Schemas['RegisterGroup'], 'particular'> | `by ${string}`

export function orderQuery(order: RegisterOrder): { order: Schemas['RegisterOrder']; particular?: string; down?: boolean } {
  const down = order.endsWith(' down') || undefined
  const [first, particular] = order.split(' ')
  return first === 'by' ? { order: 'particular', particular, down } : { order: first as OwnOrder, down }
}

const groupQuery = (group: RegisterGroup) =>
  group.startsWith('by ')
    ? { group: 'particular' as const, grouped: group.slice(3) }
    : { group: (group || undefined) as Schemas['RegisterGroup'] | undefined }

/** What a register is narrowed down to. */
export interface RegisterOnly {
  kind?: Schemas['FoundKind']
  person?: string
  tag?: string
  linked?: boolean
  /** A particular in which the value stands; nothing stands in it where that is empty. */
  where?: string
  value?: string
}

interface RegisterAsked {
  code: string
  folder: string
  order: RegisterOrder
  group: RegisterGroup
  only: RegisterOnly
  as?: string
  compare?: boolean
}

/** A folder's documents, page by page. */
export function useRegister(where: Getter<RegisterAsked>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...dossierKeys.of(toValue(where).code), 'register', toValue(where)]),
    queryFn: ({ pageParam }) => {
      const { folder, order, group, only, as, compare } = toValue(where)
      return data(
        api.GET('/folders/{id}/register', {
          params: {
            path: { id: folder },
            query: { ...orderQuery(order), ...groupQuery(group), ...only, after: pageParam, as, compare: (as && compare) || undefined },
          },
        }),
      )
    },
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next,
  })
}
