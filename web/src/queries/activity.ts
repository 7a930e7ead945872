import { useInfiniteQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

export const activityKeys = { all: ['activity'] as const }

export type EventKind = Schemas['EventKind']
type Filter = {
  about?: 'everything' | 'documents' | 'links' | 'outside'
  kind?: EventKind
  person?: string
  dossier?: string
  since?: string
}

/** What happened, newest first, page by page. */
export function useActivity(filter: MaybeRefOrGetter<Filter>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...activityKeys.all, toValue(filter)]),
    queryFn: ({ pageParam }) => {
      const { about, kind, person, dossier, since } = toValue(filter)
      return data(
        api.GET('/activity', {
          params: { query: { about, kind, person: person || undefined, dossier: dossier || undefined, since, before: pageParam } },
        }),
      )
    },
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.events.at(-1)?.id : undefined),
  })
}
