import { useQuery } from '@tanstack/vue-query'
import { computed, toValue, type MaybeRefOrGetter } from 'vue'
import { api, data } from '../api/client'

export const noticeKeys = { all: ['notices'] as const }

export function useNotices(enabled: MaybeRefOrGetter<boolean>) {
  return useQuery({ queryKey: noticeKeys.all, queryFn: () => data(api.GET('/notices')), enabled: computed(() => toValue(enabled)) })
}
