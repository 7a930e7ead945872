import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

export const particularKeys = { all: ['particulars'] as const }

export type Particular = Schemas['Particular']
export type ParticularValue = Schemas['ParticularValue']

/** What the practice keeps about documents, in order. */
export function useParticulars(enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: [...particularKeys.all, 'list'],
    queryFn: () => data(api.GET('/particulars')),
    enabled: computed(() => toValue(enabled)),
  })
}

/** The particulars of a document. */
export function useParticularsOn(document: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => [...particularKeys.all, 'on', toValue(document)]),
    queryFn: () => data(api.GET('/documents/{id}/particulars', { params: { path: { id: toValue(document) } } })),
  })
}

/** What stands in the particulars of several documents together. */
export function useParticularsTogether(documents: MaybeRefOrGetter<string[]>) {
  return useQuery({
    queryKey: computed(() => [...particularKeys.all, 'together', toValue(documents)]),
    queryFn: () => data(api.POST('/particulars/together', { body: { documents: toValue(documents) } })),
    enabled: computed(() => toValue(documents).length > 0 && toValue(documents).length <= 1000),
  })
}
