import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

export const evidenceKeys = { all: ['evidence'] as const }

/** Of what something is proven: a document or folder, a link, a dossier, or all that happened since a moment. */
export interface Subject {
  item?: string
  link?: string
  dossier?: string
  since?: string
}

/** How the practice's log stands. */
export function useEvidence(enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: [...evidenceKeys.all, 'log'],
    queryFn: () => data(api.GET('/evidence')),
    enabled: computed(() => toValue(enabled)),
  })
}

/** What happened to a subject with what is sealed of it, newest first. */
export function useTrail(of: MaybeRefOrGetter<Subject>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...evidenceKeys.all, 'trail', toValue(of)]),
    queryFn: ({ pageParam }) => data(api.GET('/evidence/trail', { params: { query: { ...toValue(of), before: pageParam } } })),
    initialPageParam: undefined as number | undefined,
    getNextPageParam: (last) => (last.more ? last.events.at(-1)?.id : undefined),
  })
}

/** How an event is proven. */
export function useProof(event: MaybeRefOrGetter<number | undefined>) {
  return useQuery({
    queryKey: computed(() => [...evidenceKeys.all, 'proof', toValue(event)]),
    queryFn: () => data(api.GET('/evidence/events/{event}', { params: { path: { event: toValue(event)! } } })),
    enabled: computed(() => toValue(event) !== undefined),
  })
}
