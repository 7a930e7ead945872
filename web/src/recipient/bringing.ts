import { Upload } from 'tus-js-client'
import { computed, reactive, ref } from 'vue'
import type { Refusal } from '../api/client'
import type { Brought } from '../uploads/dropped'
import { atOnce, isPassing, pauses, refusalIn } from '../uploads/way'

/** One file that a visitor hands in. */
export interface HandingIn {
  id: number
  name: string
  size: number
  sent: number
  state: 'waiting' | 'running' | 'done' | 'refused' | 'paused'
  /** Which of the expected papers it is. */
  paper?: number
  /** The connection is lost for the moment; it goes on by itself. */
  offline: boolean
  refusal?: Refusal
}

/** Hands files in through a link: some at once, each going on where it stopped. */
export function useBringing(token: string, arrived: () => void) {
  const all = ref<HandingIn[]>([])
  const uploads = new Map<number, Upload>()
  let number = 0

  function bring(files: Brought[], paper?: number, folder?: string) {
    for (const { file, path } of files) {
      const f: HandingIn = reactive({
        id: ++number,
        name: path ? `${path.replaceAll('/', ', ')}, ${file.name}` : file.name,
        size: file.size,
        sent: 0,
        state: 'waiting',
        paper,
        offline: false,
      })
      uploads.set(f.id, make(f, file, path, folder))
      all.value.push(f)
    }
    next()
  }

  function make(f: HandingIn, file: File, path: string, folder?: string): Upload {
    const metadata: Record<string, string> = { name: file.name, path }
    if (f.paper !== undefined) metadata.paper = String(f.paper)
    if (folder) metadata.folder = folder
    const done = (state: HandingIn['state']) => {
      f.state = state
      next()
    }
    return new Upload(file, {
      endpoint: `/api/visits/${token}/uploads`,
      metadata,
      retryDelays: pauses,
      uploadDataDuringCreation: true,
      removeFingerprintOnSuccess: true,
      fingerprint: async (x) => ['tabularis', token, folder, path, (x as File).name, (x as File).size, (x as File).lastModified].join('|'),
      onProgress: (sent) => {
        f.sent = sent
        f.offline = false
      },
      onShouldRetry: (error) => (f.offline = isPassing(error) && error.originalResponse?.getStatus() !== 401),
      onError: (error) => {
        if (f.state === 'paused') return
        f.refusal = refusalIn(error)
        done('refused')
      },
      onSuccess: () => {
        f.sent = f.size
        arrived()
        done('done')
      },
    })
  }

  function next() {
    let running = all.value.filter((f) => f.state === 'running').length
    for (const f of all.value) {
      if (running >= atOnce) return
      if (f.state !== 'waiting') continue
      start(f)
      running++
    }
  }
  function start(f: HandingIn) {
    const upload = uploads.get(f.id)
    f.state = 'running'
    f.refusal = undefined
    void upload?.findPreviousUploads().then((before) => {
      if (before[0]) upload.resumeFromPreviousUpload(before[0])
      upload.start()
    })
  }
  /** Puts a file aside; it goes on where it stopped. */
  function pause(f: HandingIn) {
    f.state = 'paused'
    void uploads.get(f.id)?.abort()
    next()
  }
  return {
    all,
    bring,
    pause,
    again: start,
    active: computed(() => all.value.filter((f) => f.state === 'waiting' || f.state === 'running').length),
  }
}
