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
