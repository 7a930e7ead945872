import { createSharedComposable, useIntervalFn, useNow } from '@vueuse/core'

/** The present moment, by one clock for all that show times; it stands while nobody looks. */
export const useClock = createSharedComposable(() => useNow({ scheduler: (tick) => useIntervalFn(tick, 30_000) }))
