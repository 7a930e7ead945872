import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** Transfers: mine, and one of them. */
export const transferKeys = {
  all: ['transfers'] as const,
  list: (over: boolean) => ['transfers', 'list', over] as const,
  one: (id: string) => ['transfers', 'one', id] as const,
}

/** How soon it is asked again, in milliseconds, while something arrives, and otherwise: recipients come at any time. */
const soon = 1500
const later = 10_000
const arrives = (t: Schemas['Transfer']) => t.state === 'open' && t.received < t.bytes

export function useTransfers(over: MaybeRefOrGetter<boolean>, enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: computed(() => transferKeys.list(toValue(over))),
    queryFn: () => data(api.GET('/transfers', { params: { query: { over: toValue(over) } } })),
    enabled: computed(() => toValue(enabled)),
    refetchInterval: ({ state }) => (toValue(over) ? false : state.data?.some(arrives) ? soon : later),
  })
}

export function useTransfer(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => transferKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/transfers/{id}', { params: { path: { id: toValue(id) } } })),
    refetchInterval: ({ state }) => (state.data && arrives(state.data) ? soon : later),
  })
}
