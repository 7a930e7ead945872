import { useQuery } from '@tanstack/vue-query'
import { api, data } from '../api/client'

export const checkoutKeys = { all: ['checkouts'] as const }

/** What I have in hand. */
export function useInHand() {
  return useQuery({ queryKey: checkoutKeys.all, queryFn: () => data(api.GET('/checkouts')) })
}
