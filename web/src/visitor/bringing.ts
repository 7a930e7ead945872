import { useComing } from '../uploads/coming'
import type { Brought } from '../uploads/dropped'
import { isPassing } from '../uploads/way'

/** Hands files in through a link. A visit that is over is not waited for. */
export function useBringing(token: string, arrived: () => void) {
  const { bring, ...coming } = useComing({
    endpoint: `/api/visits/${token}/uploads`,
    passing: (error) => isPassing(error) && error.originalResponse?.getStatus() !== 401,
    arrived,
  })
  return {
    ...coming,
    /** To one of the expected papers, or into a folder of a working link. */
    bring: (files: Brought[], to: { paper?: number; folder?: string } = {}) =>
      bring(files, { ...(to.folder ? { folder: to.folder } : {}), ...(to.paper === undefined ? {} : { paper: String(to.paper) }) }),
  }
}
