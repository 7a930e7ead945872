import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** What is asked of people about documents. */
export const decisionKeys = {
  all: ['decisions'] as const,
  list: ['decisions', 'list'] as const,
  one: (id: string) => ['decisions', 'one', id] as const,
  of: (document: string) => ['decisions', 'of', document] as const,
  absences: ['decisions', 'absences'] as const,
}

export function useDecisions() {
  return useQuery({ queryKey: decisionKeys.list, queryFn: () => data(api.GET('/decisions')) })
}

export function useRun(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => decisionKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/decisions/{id}', { params: { path: { id: toValue(id) } } })),
  })
}

/** The runs of a document, the last first. */
export function useRunsOf(document: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => decisionKeys.of(toValue(document))),
    queryFn: () => data(api.GET('/documents/{id}/decisions', { params: { path: { id: toValue(document) } } })),
  })
}

/** What asking would mean. */
export function useAskDraft(wish: MaybeRefOrGetter<Schemas['AskWish']>) {
  return useQuery({
    queryKey: computed(() => ['decisions', 'draft', toValue(wish)]),
    queryFn: () => data(api.POST('/decisions/draft', { body: toValue(wish) })),
    enabled: computed(() => toValue(wish).who.length > 0),
    placeholderData: (before) => before,
    retry: false,
  })
}

export function useAbsences() {
  return useQuery({ queryKey: decisionKeys.absences, queryFn: () => data(api.GET('/me/absences')) })
}
