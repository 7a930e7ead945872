import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Documents as forms, and what was handed in with them. */
export const fillingKeys = {
  all: ['fillings'] as const,
  of: (document: string) => ['fillings', 'of', document] as const,
  register: (document: string) => ['fillings', 'register', document] as const,
}

/** How a document stands as a form; without a field it is none. */
export function useFillable(document: MaybeRefOrGetter<string>, enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: computed(() => fillingKeys.of(toValue(document))),
    queryFn: () => data(api.GET('/documents/{id}/fillable', { params: { path: { id: toValue(document) } } })),
    enabled: computed(() => toValue(enabled)),
    retry: false,
  })
}

/** What was handed in, the newest first. */
export function useRegister(document: MaybeRefOrGetter<string>) {
  return useInfiniteQuery({
    queryKey: computed(() => fillingKeys.register(toValue(document))),
    queryFn: ({ pageParam }) =>
      data(api.GET('/documents/{id}/fillings', { params: { path: { id: toValue(document) }, query: { below: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.rows.at(-1)?.number : undefined),
  })
}
