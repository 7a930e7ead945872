import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

export const deletionKeys = { all: ['deletions'] as const }

/** What was deleted and can be brought back: of a dossier, or by oneself alone. */
export function useDeletions(of: MaybeRefOrGetter<{ dossier?: string; mine?: boolean }>, enabled: MaybeRefOrGetter<boolean> = true) {
  return useInfiniteQuery({
    queryKey: computed(() => [...deletionKeys.all, toValue(of)]),
    queryFn: ({ pageParam }) => data(api.GET('/deletions', { params: { query: { ...toValue(of), before: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next,
    enabled: computed(() => toValue(enabled)),
  })
}
