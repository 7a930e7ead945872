import { defineStore } from 'pinia'
import { computed, ref, shallowReactive, shallowRef, toRaw, triggerRef } from 'vue'
import { Upload } from 'tus-js-client'
import { api, data, Refusal, type Schemas } from '../api/client'
import type { Brought } from './dropped'
import { atOnce, isPassing, pauses, refusalIn } from './way'

/** One file on its way in. */
export interface Coming {
  id: number
  name: string
  path: string
  size: number
  sent: number
  state: 'waiting' | 'running' | 'done' | 'refused' | 'stopped'
  /** The connection is lost for the moment; it goes on by itself. */
  offline: boolean
  outcome?: Schemas['UploadOutcome']
  refusal?: Refusal
  again: () => void
  stop: () => void
}

const most = 50

/** Everything that is being brought in, and what became of it. */
export const useTray = defineStore('tray', () => {
  const all = shallowRef<Coming[]>([])
  const open = ref(false)
  let number = 0
  let running = 0
  const queue: Coming[] = []

  // Ten thousand files in one drop must not be counted anew at each of their steps: what is
  // computed over all of them reads them unobserved, some times a second.
  let due = false
  function touch(): void {
    if (due) return
    due = true
    setTimeout(() => {
      due = false
      triggerRef(all)
    }, 100)
  }
  const plain = () => all.value.map((c) => toRaw(c))
  const isActive = (c: Coming) => c.state === 'waiting' || c.state === 'running'

  const active = computed(() => plain().filter(isActive).length)
  /** What the tray shows: everything that needs a person, and a part of the rest, however many files came in one drop. */
  const shown = computed(() => {
    const by = { waiting: [] as Coming[], done: [] as Coming[], needs: [] as Coming[] }
    for (const c of all.value) {
      const { state } = toRaw(c)
      by[state === 'waiting' || state === 'done' ? state : 'needs'].push(c)
    }
    return [...by.needs.slice(0, 4 * most), ...by.waiting.slice(0, most), ...by.done.slice(-most)].sort((a, b) => a.id - b.id)
  })
  const percent = computed(() => {
    const each = plain()
    const size = each.reduce((sum, c) => sum + c.size, 0)
    return size === 0 ? 100 : Math.floor((each.reduce((sum, c) => sum + c.sent, 0) / size) * 100)
  })

  function bring(folder: string, files: Brought[]): void {
    const more = files.map((f) => coming(folder, f))
    all.value = [...all.value, ...more]
    for (const c of more) queue.push(c)
    if (files.length) open.value = true
    next()
  }

  function coming(folder: string, { file, path }: Brought): Coming {
    const c: Coming = shallowReactive<Coming>({
      id: ++number,
      name: file.name,
      path,
      size: file.size,
      sent: 0,
      state: 'waiting',
      offline: false,
      again: () => {
        c.state = 'waiting'
        c.refusal = undefined
        queue.push(c)
        next()
      },
      stop: () => {
        const was = c.state
        c.state = 'stopped'
        touch()
        void upload?.abort(true)
        if (was === 'running') finished()
      },
    })
    let upload: Upload | undefined
    starters.set(c.id, () => {
      upload = makeUpload(c, folder, file, path)
      void upload.findPreviousUploads().then((before) => {
        if (before[0]) upload?.resumeFromPreviousUpload(before[0])
        upload?.start()
      })
    })
    return c
  }
  const starters = new Map<number, () => void>()

  function makeUpload(c: Coming, folder: string, file: File, path: string): Upload {
    const upload: Upload = new Upload(file, {
      endpoint: '/api/uploads',
      metadata: { folder, name: file.name, path },
      retryDelays: pauses,
      uploadDataDuringCreation: true,
      removeFingerprintOnSuccess: true,
      fingerprint: async (f) => ['tabularis', folder, path, (f as File).name, (f as File).size, (f as File).lastModified].join('|'),
      onProgress: (sent) => {
        c.sent = sent
        c.offline = false
        touch()
      },
      onShouldRetry: (error) => {
        const retry = isPassing(error)
        c.offline = retry
        return retry
      },
      onError: (error) => {
        if (c.state === 'stopped') return
        c.state = 'refused'
        c.refusal = refusalIn(error)
        finished()
      },
      onSuccess: () => void settle(c, upload.url ?? ''),
    })
    return upload
  }

  async function settle(c: Coming, url: string): Promise<void> {
    try {
      c.outcome = await data(api.GET('/uploads/{id}/outcome', { params: { path: { id: url.split('/').pop() ?? '' } } }))
      c.state = 'done'
      c.sent = c.size
    } catch (e) {
      c.state = 'refused'
      c.refusal = e instanceof Refusal ? e : undefined
    }
    finished()
  }

  function finished(): void {
    running--
    touch()
    next()
  }

  function next(): void {
    while (running < atOnce && queue.length) {
      const c = queue.shift()
      if (c?.state !== 'waiting') continue
      c.state = 'running'
      touch()
      running++
      starters.get(c.id)?.()
    }
  }

  function clear(): void {
    for (const c of all.value) if (c.state === 'done') starters.delete(c.id)
    all.value = all.value.filter(isActive)
    if (!all.value.length) open.value = false
  }

  return { all, shown, open, active, percent, bring, clear }
})
