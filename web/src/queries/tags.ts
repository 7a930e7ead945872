import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

export const tagKeys = { all: ['tags'] as const }

export type Tag = Schemas['Tag']

/** The practice's tags and my own, with how many documents bear each. */
export function useTags() {
  return useQuery({ queryKey: [...tagKeys.all, 'list'], queryFn: () => data(api.GET('/tags')) })
}

/** The tags of a document. */
export function useTagsOn(document: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => [...tagKeys.all, 'on', toValue(document)]),
    queryFn: () => data(api.GET('/documents/{id}/tags', { params: { path: { id: toValue(document) } } })),
  })
}
