import { useQuery } from '@tanstack/vue-query'
import { api, data } from '../api/client'

export const todayKeys = { all: ['today'] as const }

export function useToday() {
  return useQuery({ queryKey: todayKeys.all, queryFn: () => data(api.GET('/today')) })
}
