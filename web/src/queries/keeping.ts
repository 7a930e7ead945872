import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** Which versions are kept, in the practice or in a dossier. */
export const keepingKeys = {
  all: ['keeping'] as const,
}

export function useKeeping(dossier: MaybeRefOrGetter<string | undefined>) {
  return useQuery({
    queryKey: computed(() => [...keepingKeys.all, toValue(dossier) ?? '']),
    queryFn: () => data(api.GET('/keeping', { params: { query: { dossier: toValue(dossier) } } })),
  })
}
