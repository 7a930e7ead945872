import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

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

/** An order of the register: one of its own, or by the values of a particular, perhaps last to first. */
export type RegisterOrder = 'event' | 'number' | 'name' | 'size' | `by ${string}`

function orderQuery(order: RegisterOrder) {
  if (!order.startsWith('by ')) return { order: order as Exclude<RegisterOrder, `by ${string}`> }
  const [, particular, down] = order.split(' ')
  return { order: 'particular' as const, particular, down: down === 'down' || undefined }
}

/** A folder's documents, page by page. */
export function useRegister(where: Getter<{ code: string; folder: string; order: RegisterOrder; as?: string; compare?: boolean }>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...dossierKeys.of(toValue(where).code), 'register', toValue(where)]),
    queryFn: ({ pageParam }) => {
      const { folder, order, as, compare } = toValue(where)
      return data(
        api.GET('/folders/{id}/register', {
          params: { path: { id: folder }, query: { ...orderQuery(order), after: pageParam, as, compare: (as && compare) || undefined } },
        }),
      )
    },
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next,
  })
}
