import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** Links in lists, each with its record, and what is being written. */
export const linkKeys = {
  lists: ['links', 'list'] as const,
  one: (id: string) => ['links', 'one', id] as const,
  drafts: ['links', 'draft'] as const,
}

type Filter = { state?: 'open' | 'over' | 'all'; dossier?: string; mine?: boolean }

export function useLinks(filter: MaybeRefOrGetter<Filter>, enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: computed(() => [...linkKeys.lists, toValue(filter)]),
    queryFn: () => {
      const f = toValue(filter)
      return data(api.GET('/links', { params: { query: { state: f.state, dossier: f.dossier || undefined, mine: f.mine || undefined } } }))
    },
    enabled: computed(() => toValue(enabled)),
    placeholderData: (before) => before,
  })
}

/** A link with all that happened through it. */
export function useLinkRecord(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => linkKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/links/{id}', { params: { path: { id: toValue(id) } } })),
  })
}

/** What terms would mean, of a link unless it is asked elsewhere. A draft that fails keeps the one that stood before. */
export function useLinkDraft<T = Schemas['LinkTerms']>(terms: MaybeRefOrGetter<T>, ask?: (terms: T) => Promise<Schemas['LinkDraft']>) {
  return useQuery({
    queryKey: computed(() => [...linkKeys.drafts, toValue(terms)]),
    queryFn: () => (ask ? ask(toValue(terms)) : data(api.POST('/links/draft', { body: toValue(terms) as Schemas['LinkTerms'] }))),
    placeholderData: (before) => before,
    staleTime: 5_000,
    gcTime: 0,
    retry: false,
  })
}
