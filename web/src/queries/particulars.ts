import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

export const particularKeys = { all: ['particulars'] as const }

export type Particular = Schemas['Particular']

/** Numbers and money stand to the right, and are put in order and added up as such. */
export const isNumber = ({ kind }: Pick<Particular, 'kind'>) => kind === 'number' || kind === 'money'

/** What the practice keeps about documents, in order. */
export function useParticulars() {
  return useQuery({ queryKey: [...particularKeys.all, 'list'], queryFn: () => data(api.GET('/particulars')) })
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
