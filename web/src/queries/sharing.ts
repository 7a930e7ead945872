import { useInfiniteQuery, useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** Who can open what, and why; what was given; and what a change would mean. */
export const sharingKeys = {
  reach: ['reach'] as const,
  why: ['why'] as const,
  given: ['given'] as const,
  drafts: ['sharing', 'draft'] as const,
}

export function useReach(item: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => [...sharingKeys.reach, toValue(item)]),
    queryFn: () => data(api.GET('/items/{id}/reach', { params: { path: { id: toValue(item) } } })),
  })
}

export function useWhy(item: MaybeRefOrGetter<string>, person: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => [...sharingKeys.why, toValue(item), toValue(person)]),
    queryFn: () => data(api.GET('/items/{id}/why/{person}', { params: { path: { id: toValue(item), person: toValue(person) } } })),
  })
}

export function useWhatIf(what: MaybeRefOrGetter<Schemas['WhatIf']>) {
  return useQuery({
    queryKey: computed(() => [...sharingKeys.drafts, 'what-if', toValue(what)]),
    queryFn: () => data(api.POST('/access/what-if', { body: toValue(what) })),
    gcTime: 0,
    retry: false,
  })
}

export const likelyOf = (items: string[], typed: string) => data(api.POST('/access/likely', { body: { items, typed } }))

export function useLikely(items: MaybeRefOrGetter<string[]>, typed: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => [...sharingKeys.drafts, 'likely', toValue(items), toValue(typed)]),
    queryFn: () => likelyOf(toValue(items), toValue(typed)),
    placeholderData: (before) => before,
    staleTime: 10_000,
  })
}

export function useAccessDraft(wish: MaybeRefOrGetter<Schemas['AccessWish']>) {
  return useQuery({
    queryKey: computed(() => [...sharingKeys.drafts, 'give', toValue(wish)]),
    queryFn: () => data(api.POST('/access/draft', { body: toValue(wish) })),
    placeholderData: (before) => before,
    staleTime: 5_000,
    gcTime: 0,
    retry: false,
  })
}

type Filter = { dossier?: string; kind?: 'folder' | 'document'; person?: string; endingBefore?: string }

/** What others gave to me, or I gave to others, page by page. */
export function useGiven(byMe: MaybeRefOrGetter<boolean>, filter: MaybeRefOrGetter<Filter>) {
  return useInfiniteQuery({
    queryKey: computed(() => [...sharingKeys.given, toValue(byMe), toValue(filter)]),
    queryFn: ({ pageParam }) =>
      toValue(byMe)
        ? data(api.GET('/given/by-me', { params: { query: { after: pageParam, ...toValue(filter) } } }))
        : data(api.GET('/given/to-me', { params: { query: { after: pageParam, saw: true } } })),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (last) => last.next,
  })
}
