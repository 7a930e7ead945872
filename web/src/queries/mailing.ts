import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Mail programs that may hand mails over, and mails that wait to be confirmed. */
export const mailingKeys = {
  programs: ['mailing', 'programs'] as const,
  held: ['mailing', 'held'] as const,
  one: (id: string) => ['mailing', 'one', id] as const,
}

export function useMailPrograms() {
  return useQuery({ queryKey: mailingKeys.programs, queryFn: () => data(api.GET('/me/mail-programs')) })
}

export function useHeldMails() {
  return useQuery({ queryKey: mailingKeys.held, queryFn: () => data(api.GET('/mails')) })
}

export function useMail(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => mailingKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/mails/{id}', { params: { path: { id: toValue(id) } } })),
  })
}
