import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

export interface Pair {
  document: string
  from?: number
  to?: number
  with?: string
}

/** How two versions, or two documents, differ. */
export function useComparison(of: MaybeRefOrGetter<Pair>) {
  return useQuery({
    queryKey: computed(() => ['comparison', toValue(of)]),
    queryFn: () => {
      const { document: id, ...query } = toValue(of)
      return data(api.GET('/documents/{id}/comparison', { params: { path: { id }, query } }))
    },
    placeholderData: (before) => before,
    retry: false,
  })
}

/** The pages of both beside each other. */
export function useComparedPages(of: MaybeRefOrGetter<Pair>) {
  return useQuery({
    queryKey: computed(() => ['comparison', 'pages', toValue(of)]),
    queryFn: () => {
      const { document: id, ...query } = toValue(of)
      return data(api.GET('/documents/{id}/comparison/pages', { params: { path: { id }, query } }))
    },
    staleTime: Infinity,
    retry: 2,
  })
}

/** Where two pages differ. */
export function usePlaces(of: MaybeRefOrGetter<Pair>, pages: MaybeRefOrGetter<{ before: number; now: number } | undefined>) {
  return useQuery({
    queryKey: computed(() => ['comparison', 'places', toValue(of), toValue(pages)]),
    queryFn: () => {
      const { document: id, ...query } = toValue(of)
      return data(api.GET('/documents/{id}/comparison/places', { params: { path: { id }, query: { ...query, ...toValue(pages)! } } }))
    },
    enabled: computed(() => !!toValue(pages)),
    staleTime: Infinity,
  })
}
