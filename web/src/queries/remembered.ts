import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data, type Schemas } from '../api/client'

/** Under which terms one gave something before, as they would be for these items. Like what is being written it stays while one writes. */
export function useRemembered(of: MaybeRefOrGetter<Schemas['Recall']>, enabled: boolean) {
  return useQuery({
    queryKey: computed(() => ['remembered', 'draft', toValue(of)]),
    queryFn: () => data(api.POST('/remembered', { body: toValue(of) })),
    enabled,
    placeholderData: (before) => before,
    gcTime: 0,
    retry: false,
  })
}
