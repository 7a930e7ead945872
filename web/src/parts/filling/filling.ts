import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { computed, reactive, ref, type Ref } from 'vue'
import { Refusal } from '../../api/client'
import type { Filling, Standing } from './word'

/** How what is filled in is kept and handed in: by somebody signed in, or by a link. */
export interface Ways {
  keep: (answers: Record<string, string>, again?: boolean) => Promise<Standing>
  handIn: (version: number, name?: string) => Promise<Standing>
  load: () => Promise<Filling>
  /** What was refused for good ends the page. */
  failed: (e: unknown) => void
}

const pause = 700
const tryAgain = 5000

/** A form that is filled in: what was written is kept by itself soon after, and as soon as one leaves a field. */
export function useFilling(form: Ref<Filling>, ways: Ways) {
  const answers = reactive<Record<string, string>>({})
  const standing = ref<Standing>(form.value.standing)
  /** The fields that were left once: only these say what is wrong. */
  const left = reactive(new Set<string>())
  const state = ref<'kept' | 'keeping' | 'failed'>('kept')
  const wrong = ref('')
  const busy = ref(false)
  /** What is written since it was kept last. */
  let waiting: Record<string, string> = {}
  let running: Promise<void> | undefined

  const fields = computed(() => form.value.sections.flatMap((s) => s.fields))
  function take(f: Filling) {
    form.value = f
    standing.value = f.standing
    for (const field of f.sections.flatMap((s) => s.fields)) if (!(field.id in waiting)) answers[field.id] = field.answer
  }
  take(form.value)

  const later = useTimeoutFn(() => void flush(), pause, { immediate: false })
  const again = useTimeoutFn(() => void flush(), tryAgain, { immediate: false })

  /** Writes an answer; what is chosen, not typed, is kept at once. */
  function put(id: string, value: string, now = false) {
    answers[id] = value
    waiting[id] = value
    if (now) void flush()
    else later.start()
  }
  function leave(id: string) {
    left.add(id)
    if (id in waiting) void flush()
  }
  /** Keeps what is written, one time after the other. */
  async function flush(): Promise<void> {
    later.stop()
    again.stop()
    if (running) await running
    if (!Object.keys(waiting).length) return
    const sent = waiting
    waiting = {}
    state.value = 'keeping'
    running = send(sent)
    await running
    running = undefined
  }
  async function send(sent: Record<string, string>) {
    try {
      standing.value = await ways.keep(sent)
      state.value = Object.keys(waiting).length ? 'keeping' : 'kept'
      wrong.value = ''
    } catch (e) {
      // Nothing that was written is lost: it goes along next time.
      waiting = { ...sent, ...waiting }
      state.value = 'failed'
      if (e instanceof Refusal && e.code === 'field-unknown') await anew()
      else if (e instanceof Refusal && e.code === 'filling-taken') await over()
      else if (e instanceof Refusal && e.problem.status !== 429) refused(e)
      else again.start()
    }
  }
  /** The form was changed: what it still asks is answered as it was. */
  async function anew() {
    const fresh = await ways.load()
    const asked = new Set(fresh.sections.flatMap((s) => s.fields.map((f) => f.id)))
    waiting = Object.fromEntries(Object.entries(waiting).filter(([id]) => asked.has(id)))
    take(fresh)
    wrong.value = 'wentOn'
    if (Object.keys(waiting).length) later.start()
  }
  /** Somebody works on it: it is shown as it was handed in. */
  async function over() {
    waiting = {}
    take(await ways.load())
    state.value = 'kept'
  }
  function refused(e: Refusal) {
    wrong.value = `problem.${e.code}`
    ways.failed(e)
  }
  async function handIn(name?: string): Promise<boolean> {
    busy.value = true
    wrong.value = ''
    try {
      await flush()
      if (state.value === 'failed') return false
      standing.value = await ways.handIn(standing.value.version, name)
      return true
    } catch (e) {
      if (e instanceof Refusal && e.code === 'form-went-on') await anew()
      else if (e instanceof Refusal && e.code === 'filling-taken') await over()
      else if (e instanceof Refusal) refused(e)
      else wrong.value = 'notKept'
      return false
    } finally {
      busy.value = false
    }
  }
  async function oncemore() {
    standing.value = await ways.keep({}, true)
    take(await ways.load())
    left.clear()
  }
  useEventListener(document, 'visibilitychange', () => document.hidden && void flush())
  useEventListener(window, 'beforeunload', (e) => {
    if (!Object.keys(waiting).length) return
    void flush()
    e.preventDefault()
  })
  const problemOf = (id: string) => standing.value.open.find((o) => o.field === id)
  return { answers, standing, left, state, wrong, busy, fields, put, leave, flush, handIn, oncemore, problemOf }
}

export type Filler = ReturnType<typeof useFilling>
