import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

export type Question = Schemas['Question']
export type FoundOrder = 'best' | 'newest'

export const findKeys = { all: ['found'] as const, kept: ['questions'] as const }

/** What documents are told apart by when one looks for them. */
export const kinds: Schemas['FoundKind'][] = ['pdf', 'writing', 'table', 'slides', 'mail', 'picture', 'text', 'recording', 'other']

/** Something is asked: by words, a tag or a particular. */
const isAsked = (q: Question) => q.q.trim() !== '' || !!q.tag || !!q.where || !!q.state

/** Documents that answer a question, page by page. */
export function useAnswers(question: MaybeRefOrGetter<Question>, order: MaybeRefOrGetter<FoundOrder>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...findKeys.all, 'page', toValue(question), toValue(order)]),
    queryFn: ({ pageParam }) =>
      data(api.GET('/found', { params: { query: { ...toValue(question), order: toValue(order), after: pageParam } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next,
    enabled: computed(() => isAsked(toValue(question))),
    placeholderData: (before) => before,
  })
}

/** How many there are, by dossier and kind. */
export function useAnswerCounts(question: MaybeRefOrGetter<Question>) {
  return useQuery({
    queryKey: computed(() => [...findKeys.all, 'counts', toValue(question)]),
    queryFn: () => data(api.GET('/found/counts', { params: { query: toValue(question) } })),
    enabled: computed(() => isAsked(toValue(question))),
  })
}

/** The first few answers while somebody types. */
export function useTypedAnswers(words: MaybeRefOrGetter<string>) {
  const asked = computed(() => toValue(words).trim())
  return useQuery({
    queryKey: computed(() => [...findKeys.all, 'typed', asked.value]),
    queryFn: () => data(api.GET('/found', { params: { query: { q: asked.value, typing: true, limit: 6 } } })),
    enabled: computed(() => asked.value.length > 2),
    placeholderData: (before) => before,
    // What is not a question yet is none.
    retry: false,
  })
}

/** The questions that I keep. */
export function useQuestions() {
  return useQuery({ queryKey: findKeys.kept, queryFn: () => data(api.GET('/questions')) })
}
