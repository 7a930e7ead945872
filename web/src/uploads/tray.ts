import { defineStore } from 'pinia'
import { computed, ref, toRaw } from 'vue'
import { api, data, Refusal } from '../api/client'
import { superseding, useComing, type Coming } from './coming'
import type { Brought } from './dropped'

const most = 50

/** Everything that is being brought in, and what became of it. */
export const useTray = defineStore('tray', () => {
  const open = ref(false)
  /** What follows when the version of a document is there. */
  const after = new Map<string, () => void>()
  /** Under which id each came in. */
  const ids = new Map<number, string>()
  const { all, active, percent, counts, stopAll, ...coming } = useComing({
    endpoint: '/api/uploads',
    inTurn: true,
    arrived: async (c, id) => {
      ids.set(c.id, id)
      await outcome(c, id)
      // Whether it is recognised or not, it is here.
      void recognise(c).catch(() => undefined)
      const then = after.get(c.to.document ?? '')
      after.delete(c.to.document ?? '')
      then?.()
    },
  })

  const outcome = async (c: Coming, id: string) =>
    (c.outcome = await data(api.GET('/uploads/{id}/outcome', { params: { path: { id } }, headers: superseding(c) })))

  /** Of a few files it is looked whether one is likely a version of another paper, by what it holds. */
  const few = 8
  async function recognise(c: Coming): Promise<void> {
    const { outcome: known } = c
    if (known?.outcome !== 'document' || known.like || active.value > few) return
    const { like, version, counts: now } = await data(api.GET('/documents/{id}/likeness', { params: { path: { id: known.document.id } } }))
    if (!like) return
    c.outcome = { ...known, like }
    c.from = version === now ? undefined : { version: version!, counts: now! }
  }

  /**
   * What the tray shows: first what runs, then everything that needs a person, and a part of the rest, however many files came
   * in one drop.
   */
  const shown = computed(() => {
    const by = { running: [] as Coming[], waiting: [] as Coming[], done: [] as Coming[], needs: [] as Coming[] }
    for (const c of all.value) {
      const { state } = toRaw(c)
      by[state === 'running' || state === 'waiting' || state === 'done' ? state : 'needs'].push(c)
    }
    return [...by.running, ...by.needs.slice(0, 4 * most), ...by.waiting.slice(0, most), ...by.done.slice(-most).reverse()]
  })

  function bring(folder: string, files: Brought[]): void {
    coming.bring(files, { folder })
    if (files.length) open.value = true
  }

  /** A file that is to be a version of a document, whatever it is called. */
  function revise(document: string, file: File, note: string, then?: () => void): void {
    if (then) after.set(document, then)
    coming.bring([{ file, path: '' }], { document, ...(note ? { note } : {}) })
    open.value = true
  }

  /** What was refused since the document is approved becomes its version all the same, as somebody says. */
  async function supersede(c: Coming): Promise<void> {
    c.supersedes = true
    const id = ids.get(c.id)
    if (!id) return c.again()
    try {
      await outcome(c, id)
      c.refusal = undefined
      c.state = 'done'
    } catch (e) {
      if (e instanceof Refusal) c.refusal = e
    }
  }
  /** … or a document of its own. */
  function apart(c: Coming): void {
    c.stop()
    coming.bring([c.brought], { ...c.to, apart: 'true' })
  }

  function clear(): void {
    coming.clear()
    if (!all.value.length) open.value = false
  }

  return { all, shown, open, active, percent, counts, bring, revise, supersede, apart, stopAll, clear }
})
