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

/** What goes with one question of what a change would mean. */
const atOnce = 1000

/** What a change would mean; for more things than are asked for at once, added up person by person. */
export async function whatIf(what: Schemas['WhatIf']): Promise<Schemas['Consequence']> {
  const asked = portionsOf(what)
  const all: Schemas['Consequence'][] = []
  for (const body of asked) all.push(await data(api.POST('/access/what-if', { body })))
  return all.reduce(together)
}

function portionsOf(what: Schemas['WhatIf']): Schemas['WhatIf'][] {
  const chunks = (items: string[]) =>
    Array.from({ length: Math.ceil(items.length / atOnce) }, (_, i) => items.slice(i * atOnce, (i + 1) * atOnce))
  const goal = what.move ?? what.copy ?? what.bringBack
  if ((goal?.items ?? what.delete ?? []).length <= atOnce) return [what]
  if (what.delete) return chunks(what.delete).map((some) => ({ delete: some }))
  const way = what.move ? 'move' : what.copy ? 'copy' : 'bringBack'
  return chunks(goal!.items).map((items) => ({ [way]: { ...goal!, items } }))
}

function together(a: Schemas['Consequence'], b: Schemas['Consequence']): Schemas['Consequence'] {
  const effects = a.effects.map((e) => ({ ...e }))
  for (const e of b.effects) {
    const same = effects.find((o) => o.person === e.person && o.name === e.name)
    if (!same) effects.push(e)
    else for (const n of ['gains', 'loses', 'changes', 'could'] as const) same[n] += e[n]
  }
  // The links are those on the way to the goal, or on what is deleted: at least as many as with any portion.
  return { documents: a.documents + b.documents, effects, links: Math.max(a.links ?? 0, b.links ?? 0) || undefined }
}

export function useWhatIf(what: MaybeRefOrGetter<Schemas['WhatIf']>) {
  return useQuery({
    queryKey: computed(() => [...sharingKeys.drafts, 'what-if', toValue(what)]),
    queryFn: () => whatIf(toValue(what)),
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
