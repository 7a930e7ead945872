import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

export const remarkKeys = { all: ['remarks'] as const, of: (item: string) => ['remarks', item] as const }

export type Showing = 'all' | 'open' | 'mine' | 'unread'
export type Place = Schemas['RemarkPlace']

/** What was said about a folder or document, in threads, newest first. */
export function useRemarks(item: MaybeRefOrGetter<string>, show: MaybeRefOrGetter<Showing>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...remarkKeys.of(toValue(item)), toValue(show)]),
    queryFn: ({ pageParam }) =>
      data(api.GET('/items/{id}/remarks', { params: { path: { id: toValue(item) }, query: { show: toValue(show), before: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next,
  })
}

/** Whom a remark about it can name. */
export function useNameable(item: MaybeRefOrGetter<string>, enabled: MaybeRefOrGetter<boolean>) {
  return useQuery({
    queryKey: computed(() => [...remarkKeys.of(toValue(item)), 'people']),
    queryFn: () => data(api.GET('/items/{id}/remarks/people', { params: { path: { id: toValue(item) } } })),
    enabled: computed(() => toValue(enabled)),
  })
}
