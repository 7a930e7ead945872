import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** Papers that are signed by their parties. */
export const signingKeys = {
  all: ['signing'] as const,
  list: ['signing', 'list'] as const,
  one: (id: string) => ['signing', 'one', id] as const,
  check: (document: string, version: number) => ['signing', 'check', document, version] as const,
}

export function useSignings() {
  return useQuery({ queryKey: signingKeys.list, queryFn: () => data(api.GET('/signings')) })
}

export function useSigning(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => signingKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/signings/{id}', { params: { path: { id: toValue(id) } } })),
  })
}

/** What sending would mean; it is asked anew with each change of the wish. */
export function useSigningDraft(wish: MaybeRefOrGetter<Schemas['SigningWish']>) {
  return useQuery({
    queryKey: computed(() => ['signing', 'draft', toValue(wish)]),
    queryFn: () => data(api.POST('/signings/draft', { body: toValue(wish) })),
    placeholderData: (before) => before,
    retry: false,
  })
}

/** What was found in a signed document as it counts. */
export function usePaperCheck(document: MaybeRefOrGetter<string>, version: MaybeRefOrGetter<number | undefined>) {
  return useQuery({
    queryKey: computed(() => signingKeys.check(toValue(document), toValue(version) ?? 0)),
    queryFn: () => data(api.GET('/documents/{id}/paper-check', { params: { path: { id: toValue(document) } } })),
    enabled: computed(() => !!toValue(version)),
    retry: false,
  })
}
