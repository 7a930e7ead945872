import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Accounts, groups, invitations, and the practice's rules. */
export const peopleKeys = {
  directory: ['people'] as const,
  joining: (token: string) => ['joining', token] as const,
}

export function useDirectory(enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({ queryKey: peopleKeys.directory, queryFn: () => data(api.GET('/people')), enabled: computed(() => toValue(enabled)) })
}

export function useJoining(token: string) {
  return useQuery({
    queryKey: peopleKeys.joining(token),
    queryFn: () => data(api.GET('/joining/{token}', { params: { path: { token } } })),
    retry: false,
  })
}
