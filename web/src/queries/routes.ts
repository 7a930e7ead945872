import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Ways that documents take by themselves. */
export const routeKeys = {
  all: ['routes'] as const,
  list: ['routes', 'list'] as const,
  of: (folder: string) => ['routes', 'of', folder] as const,
  one: (id: string) => ['routes', 'one', id] as const,
  runs: (id: string) => ['routes', 'runs', id] as const,
}

export function useRoutes() {
  return useQuery({ queryKey: routeKeys.list, queryFn: () => data(api.GET('/routes')) })
}

export function useRoutesOf(folder: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: computed(() => routeKeys.of(toValue(folder) ?? '')),
    queryFn: () => data(api.GET('/folders/{id}/routes', { params: { path: { id: toValue(folder)! } } })),
    enabled: computed(() => !!toValue(folder)),
  })
}

export function useOneRoute(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => routeKeys.one(toValue(id))),
    queryFn: () => data(api.GET('/routes/{id}', { params: { path: { id: toValue(id) } } })),
  })
}

export function useRouteRuns(id: MaybeRefOrGetter<string>) {
  return useQuery({
    queryKey: computed(() => routeKeys.runs(toValue(id))),
    queryFn: () => data(api.GET('/routes/{id}/runs', { params: { path: { id: toValue(id) } } })),
  })
}
