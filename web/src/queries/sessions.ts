import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Where I am signed in, and by what. */
export const sessionKeys = {
  places: ['sessions', 'places'] as const,
  factors: ['sessions', 'factors'] as const,
  entry: (token: string) => ['entry', token] as const,
}

export function useFactors() {
  return useQuery({ queryKey: sessionKeys.factors, queryFn: () => data(api.GET('/me/factors')) })
}

export function usePlaces(enabled: MaybeRefOrGetter<boolean>) {
  return useQuery({ queryKey: sessionKeys.places, queryFn: () => data(api.GET('/me/sessions')), enabled: computed(() => toValue(enabled)) })
}

/** What a one-time link is for. Looking uses nothing up. */
export function useEntry(token: string) {
  return useQuery({
    queryKey: sessionKeys.entry(token),
    queryFn: () => data(api.GET('/entries/{token}', { params: { path: { token } } })),
    retry: false,
    staleTime: Infinity,
  })
}
