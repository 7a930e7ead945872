import { wrap, type Remote } from 'comlink'
import type { Sealer } from './sealing.worker'

let running: Remote<Sealer> | undefined

/** The worker that seals and opens; there is one for the page. */
export function useSealer(): Remote<Sealer> {
  running ??= wrap<Sealer>(new Worker(new URL('./sealing.worker.ts', import.meta.url), { type: 'module' }))
  return running
}
