import { useQuery } from '@tanstack/vue-query'
import { api, data, type Schemas } from '../api/client'

export const followingKeys = { all: ['following'] as const }

export type Stance = Schemas['Stance']

/** What I follow or have muted. */
export function useFollowing() {
  return useQuery({ queryKey: [...followingKeys.all, 'things'], queryFn: () => data(api.GET('/following')) })
}

/** How often I am sent a digest, of what and by which clock. */
export function useDigest() {
  return useQuery({ queryKey: [...followingKeys.all, 'digest'], queryFn: () => data(api.GET('/digest')) })
}

/** The filters of the activity that I keep. */
export function useFilters() {
  return useQuery({ queryKey: [...followingKeys.all, 'filters'], queryFn: () => data(api.GET('/activity/filters')) })
}
