import { computed, shallowReactive, shallowRef, toRaw, triggerRef } from 'vue'
import { Upload, type DetailedError } from 'tus-js-client'
import { Refusal, type Schemas } from '../api/client'
import type { Brought, Guise } from './dropped'
import { atOnce, isPassing, patience, pauses, refusalIn } from './way'

/** One file on its way in. */
export interface Coming {
  id: number
  name: string
  path: string
  size: number
  sent: number
  state: 'waiting' | 'running' | 'done' | 'refused' | 'paused' | 'stopped'
  /** The connection is lost for the moment; it goes on by itself. */
  offline: boolean
  /** What was said with it beside its name: the folder, or which of the expected papers it is. */
  to: Record<string, string>
  /** What was brought. */
  brought: Brought
  /** Somebody said that it supersedes what is approved. */
  supersedes?: boolean
  outcome?: Schemas['UploadOutcome']
  /** It comes from an earlier version of the paper that it is, which has moved on since. */
  from?: { version: number; counts: number }
  refusal?: Refusal
  again: () => void
  /** Puts it aside; it goes on where it stopped. */
  pause: () => void
  /** Ends it for good; what has come in so far is forgotten. */
  stop: () => void
}

/** Where files go to, and what follows when one is there. */
interface Way {
  endpoint: string
  /** Whether a try that failed like this is worth another. */
  passing?: (error: DetailedError) => boolean
  arrived: (c: Coming, id: string) => Promise<void> | void
  /** Those of one drop arrive in their order: each gets its number then. */
  inTurn?: boolean
}

const whole = (c: Coming) => (c.size ? Math.floor((c.sent / c.size) * 100) : 100)

/** What says so to the server. */
export const superseding = (c: Coming): Record<string, string> => (c.supersedes ? { Supersede: 'approved' } : {})

/** Frame 2 comes before frame 10. */
const natural = new Intl.Collator(undefined, { numeric: true })

/** How much of a file has come, in percent, and its name with the folders above it. */
export const progress = { percent: whole, name: (c: Coming) => (c.path ? `${c.path.replaceAll('/', ', ')}, ${c.name}` : c.name) }

/**
 * Brings files in by tus: some at once, each going on where it stopped, after a lost connection and after the page was
 * loaded anew.
 */
export function useComing(way: Way) {
  const all = shallowRef<Coming[]>([])
  const queue: Coming[] = []
  const starters = new Map<number, () => void>()
  /** Of each file of a drop, when its turn has come, and what lets those after it pass. */
  const turns = new Map<number, { come: Promise<unknown>; pass: () => void }>()
  let number = 0
  let running = 0

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
  const percent = computed(() => {
    const each = plain()
    const size = each.reduce((sum, c) => sum + c.size, 0)
    return size === 0 ? 100 : Math.floor((each.reduce((sum, c) => sum + c.sent, 0) / size) * 100)
  })

  const counts = computed(() => {
    const by = { done: 0, stopped: 0, refused: 0 }
    for (const { state } of plain()) if (state in by) by[state as keyof typeof by]++
    return by
  })
  function stopAll(): void {
    for (const c of plain()) if (isActive(c)) c.stop()
  }

  function bring(files: Brought[], to: Record<string, string>): void {
    // They begin in the order of their names, so that their numbers follow it.
    const inOrder = [...files].sort((a, b) => natural.compare(a.path, b.path) || natural.compare(a.file.name, b.file.name))
    const more = inOrder.map((f) => coming(f, to))
    if (way.inTurn) lineUp(more)
    all.value = [...all.value, ...more]
    for (const c of more) queue.push(c)
    next()
  }

  function lineUp(drop: Coming[]): void {
    let come = Promise.resolve()
    for (const c of drop) {
      let pass = () => {}
      turns.set(c.id, { come, pass: () => pass() })
      const passed = new Promise<void>((resolve) => (pass = resolve))
      come = come.then(() => passed)
    }
  }

  function coming({ file, path, guise }: Brought, to: Record<string, string>): Coming {
    let upload: Upload | undefined
    const leave = (state: Coming['state'], forget: boolean) => {
      const was = c.state
      c.state = state
      turns.get(c.id)?.pass()
      touch()
      void upload?.abort(forget)
      if (was === 'running') finished(c)
    }
    const c: Coming = shallowReactive<Coming>({
      id: ++number,
      name: guise?.name ?? file.name,
      path,
      size: guise?.size ?? file.size,
      sent: 0,
      state: 'waiting',
      offline: false,
      to,
      brought: { file, path, guise },
      again: () => {
        c.state = 'waiting'
        c.refusal = undefined
        queue.push(c)
        next()
      },
      pause: () => leave('paused', false),
      stop: () => leave('stopped', true),
    })
    starters.set(c.id, () => {
      upload = make(c, file, guise)
      void upload.findPreviousUploads().then((before) => {
        if (before[0]) upload?.resumeFromPreviousUpload(before[0])
        upload?.start()
      })
    })
    return c
  }

  function make(c: Coming, file: File, guise?: Guise): Upload {
    const upload: Upload = new Upload(file, {
      endpoint: way.endpoint,
      metadata: { ...c.to, ...(way.inTurn ? { turn: 'waits' } : {}), name: c.name, path: c.path },
      retryDelays: pauses,
      headers: superseding(c),
      ...(guise ? { fileReader: guise.reader, chunkSize: guise.piece } : {}),
      // What others fetch while it arrives has its address before anything of it is sent: it is gone on with, never begun anew.
      uploadDataDuringCreation: !c.to.announced,
      removeFingerprintOnSuccess: true,
      fingerprint: async () =>
        ['tabularis', way.endpoint, c.to.folder, c.to.document, c.to.announced, c.path, c.name, c.size, file.lastModified].join('|'),
      onProgress: (sent) => {
        c.sent = sent
        c.offline = false
        touch()
      },
      onShouldRetry: (error) => (c.offline = (way.passing ?? isPassing)(error)),
      onError: (error) => {
        if (c.state === 'stopped' || c.state === 'paused') return
        c.state = 'refused'
        c.refusal = refusalIn(error)
        finished(c)
      },
      onSuccess: () => void settle(c, upload.url?.split('/').pop() ?? '', guise),
    })
    return upload
  }

  async function settle(c: Coming, id: string, guise?: Guise): Promise<void> {
    try {
      await turns.get(c.id)?.come
      await guise?.arrived()
      await way.arrived(c, id)
      c.state = 'done'
      c.sent = c.size
    } catch (e) {
      c.state = 'refused'
      c.refusal = e instanceof Refusal ? e : undefined
    }
    finished(c)
  }

  function finished(c: Coming): void {
    turns.get(c.id)?.pass()
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
      const turn = turns.get(c.id)
      if (turn) setTimeout(turn.pass, patience)
      starters.get(c.id)?.()
    }
  }

  function clear(): void {
    for (const c of all.value) {
      if (isActive(c)) continue
      starters.delete(c.id)
      turns.delete(c.id)
    }
    all.value = all.value.filter(isActive)
  }

  return { all, active, counts, stopAll, percent, bring, clear }
}
