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

/** Places that a document marks itself. */
export function useFoundPlaces(document: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => ['signing', 'draft', 'found', toValue(document)]),
    queryFn: () => data(api.GET('/documents/{id}/signing-places', { params: { path: { id: toValue(document) } } })),
    retry: false,
  })
}

/** Forms: papers that are signed again and again. */
export const formKeys = {
  list: ['signing', 'forms'] as const,
  one: (id: string) => ['signing', 'form', id] as const,
  many: (id: string) => ['signing', 'many', id] as const,
}

export function useForms() {
  return useQuery({ queryKey: formKeys.list, queryFn: () => data(api.GET('/signing-forms')) })
}

export function useForm(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => formKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/signing-forms/{id}', { params: { path: { id: toValue(id) } } })),
    retry: false,
  })
}

/** What sending a form would mean; it is asked anew with each change of the wish. */
export function useFormUse(id: MaybeRefOrGetter<string>, wish: MaybeRefOrGetter<Schemas['FormUse'] | undefined>) {
  return useQuery({
    queryKey: computed(() => ['signing', 'draft', 'use', toValue(id), toValue(wish)]),
    queryFn: () => data(api.POST('/signing-forms/{id}/use', { params: { path: { id: toValue(id) } }, body: toValue(wish)! })),
    enabled: computed(() => !!toValue(wish)),
    placeholderData: (before) => before,
    retry: false,
  })
}

/** What came of what was sent to many, anew as long as something waits. */
export function useSentToMany(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => formKeys.many(toValue(id))),
    queryFn: () => data(api.GET('/signing-batches/{id}', { params: { path: { id: toValue(id) } } })),
    refetchInterval: (q) => (q.state.data?.waiting ? 1000 : false),
    retry: false,
  })
}
