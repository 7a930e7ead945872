import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

/** What people outside sent to one's address, and the address itself. */
export const deliveryKeys = {
  all: ['deliveries'] as const,
  list: (decided: boolean) => ['deliveries', 'list', decided] as const,
  address: ['deliveries', 'address'] as const,
}

export function useDeliveries(decided: MaybeRefOrGetter<boolean>, enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: computed(() => deliveryKeys.list(toValue(decided))),
    queryFn: () => data(api.GET('/deliveries', { params: { query: { decided: toValue(decided) } } })),
    enabled: computed(() => toValue(enabled)),
  })
}

export function useAddress(enabled: MaybeRefOrGetter<boolean> = true) {
  return useQuery({
    queryKey: deliveryKeys.address,
    queryFn: () => data(api.GET('/me/address')),
    enabled: computed(() => toValue(enabled)),
  })
}
