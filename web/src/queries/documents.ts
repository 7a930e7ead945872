import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Documents by their id, and what was looked for. */
export const documentKeys = {
  all: ['documents'] as const,
  one: (id: string) => ['documents', id] as const,
  found: (words: string) => ['found', words] as const,
}

export function useDocument(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => documentKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/documents/{id}', { params: { path: { id: toValue(id) } } })),
  })
}

/** Which pages a version of a document has. */
export function useOutline(id: MaybeRefOrGetter<string | undefined>, version: MaybeRefOrGetter<number | undefined>) {
  const of = computed(() => toValue(id) ?? '')
  return useQuery({
    queryKey: computed(() => [...documentKeys.one(of.value), 'pages', toValue(version)]),
    queryFn: () => data(api.GET('/documents/{id}/pages', { params: { path: { id: of.value }, query: { version: toValue(version) } } })),
    enabled: computed(() => !!of.value),
  })
}

/** Dossiers and documents by number or by words of their names. */
export function useFound(words: MaybeRefOrGetter<string>, open: MaybeRefOrGetter<string>) {
  const asked = computed(() => toValue(words).trim())
  return useQuery({
    queryKey: computed(() => [...documentKeys.found(asked.value), toValue(open)]),
    queryFn: () => data(api.GET('/find', { params: { query: { q: asked.value, dossier: toValue(open) || undefined } } })),
    enabled: computed(() => asked.value !== ''),
    placeholderData: (before) => before,
  })
}
