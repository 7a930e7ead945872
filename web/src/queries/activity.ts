import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'
import type { operations } from '../api/schema.gen'

export const activityKeys = { all: ['activity'] as const }

export type EventKind = Schemas['EventKind']
type Filter = NonNullable<operations['listActivity']['parameters']['query']>

/** What happened, newest first, page by page. */
export function useActivity(filter: MaybeRefOrGetter<Filter>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...activityKeys.all, toValue(filter)]),
    queryFn: ({ pageParam }) => data(api.GET('/activity', { params: { query: { ...toValue(filter), before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.events.at(-1)?.id : undefined),
  })
}
