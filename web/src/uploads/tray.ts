import { defineStore } from 'pinia'
import { computed, ref, toRaw } from 'vue'
import { api, data } from '../api/client'
import { useComing, type Coming } from './coming'
import type { Brought } from './dropped'

const most = 50

/** Everything that is being brought in, and what became of it. */
export const useTray = defineStore('tray', () => {
  const open = ref(false)
  /** What follows when the version of a document is there. */
  const after = new Map<string, () => void>()
  const { all, active, percent, counts, stopAll, ...coming } = useComing({
    endpoint: '/api/uploads',
    inTurn: true,
    arrived: async (c, id) => {
      c.outcome = await data(api.GET('/uploads/{id}/outcome', { params: { path: { id } } }))
      // Whether it is recognised or not, it is here.
      void recognise(c).catch(() => undefined)
      const then = after.get(c.to.document ?? '')
      after.delete(c.to.document ?? '')
      then?.()
    },
  })

  /** Of a few files it is looked whether one is likely a version of another paper, by what it holds. */
  const few = 8
  async function recognise(c: Coming): Promise<void> {
    const { outcome } = c
    if (outcome?.outcome !== 'document' || outcome.like || active.value > few) return
    const {
      like,
      version,
      counts: now,
    } = await data(api.GET('/documents/{id}/likeness', { params: { path: { id: outcome.document.id } } }))
    if (!like) return
    c.outcome = { ...outcome, like }
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

  function clear(): void {
    coming.clear()
    if (!all.value.length) open.value = false
  }

  return { all, shown, open, active, percent, counts, bring, revise, stopAll, clear }
})
