import { ref, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Entry } from '../../parts/MenuList.vue'
import { usePlayer } from '../../app/player'
import { movable, recordingsOf, type Thing } from './things'

/** What the menu of a folder or document can do; each is offered to whoever may. */
export interface ThingActs {
  open: (thing: Thing) => void
  giveOut: (ids: string[], people: boolean) => void
  /** Sends frozen copies. */
  send: (ids: string[]) => void
  move: (things: Thing[], copy?: boolean) => void
  remove: (things: Thing[]) => void
  /** Asks for a decision on documents. */
  ask: (things: Thing[]) => void
  /** Makes a document from it, in the folder that is open; undefined where nobody may. */
  makeFrom: () => ((thing: Thing) => void) | undefined
  checkOut: (things: Thing[]) => void
  rename: (thing: Thing, contents: boolean) => void
  /** Puts a folder one place up or down; undefined where nobody may. */
  shift: (thing: Thing) => ((by: -1 | 1) => void) | undefined
  /** Chooses it, or chooses it no longer. */
  toggle: (thing: Thing) => void
}

/** An address that gives several things as one archive. */
export const archiveOf = (things: { id: string }[]) => `/api/archive?${things.map((o) => `item=${o.id}`).join('&')}`

/** An address that gives them with their hashes, as a bag (RFC 8493). */
export const bagOf = (things: { id: string }[]) => `/api/bag?${things.map((o) => `item=${o.id}`).join('&')}`

/**
 * The menu of a thing, where the pointer is; with others that are chosen it concerns all of them. In the contents nothing is
 * chosen, and it concerns the folder alone.
 */
export function useThingMenu(chosen: Ref<Thing[]>, acts: ThingActs) {
  const { t } = useI18n()
  const player = usePlayer()
  const menu = ref<{ x: number; y: number; entries: Entry[] } | null>(null)

  function shifts(thing: Thing, contents: boolean): Entry[] {
    const shift = contents && acts.shift(thing)
    return shift
      ? [
          { label: t('dossier.up'), do: () => shift(-1) },
          { label: t('dossier.down'), do: () => shift(1) },
        ]
      : []
  }

  function show(thing: Thing, x: number, y: number, contents = false) {
    const isChosen = !contents && chosen.value.some((c) => c.id === thing.id)
    const all = isChosen ? chosen.value : [thing]
    const every = (cap: string) => all.every((o) => o.may.includes(cap))
    const entry = (label: string, act: () => void) => ({ label, do: act })
    const recordings = recordingsOf(all)
    const folder = thing.kind === 'folder'
    const alone = all.length === 1
    const fetch =
      alone && !folder
        ? entry(t('common.download'), () => location.assign(`/api/documents/${thing.id}/content?download`))
        : entry(t('dossier.take'), () => location.assign(archiveOf(all)))
    menu.value = {
      x,
      y,
      entries: [
        entry(t(folder ? 'dossier.open' : 'common.view'), () => acts.open(thing)),
        ...(recordings.length ? [entry(t('player.play', { n: recordings.length }, recordings.length), () => player.play(recordings))] : []),
        ...(every('share')
          ? [entry(t('dossier.giveOut'), () => acts.giveOut(ids(all), false)), entry(t('access.letIn'), () => acts.giveOut(ids(all), true))]
          : []),
        ...(every('change') && all.every((o) => o.kind === 'document') && all.length <= 100
          ? [entry(t('decisions.ask.verb'), () => acts.ask(all))]
          : []),
        ...(every('share') && every('download') ? [entry(t('transfers.menu'), () => acts.send(ids(all)))] : []),
        ...(all.every(movable) ? [entry(t('move.menu'), () => acts.move(all))] : []),
        ...(every('download') ? [entry(t('copy.menu'), () => acts.move(all, true))] : []),
        ...(alone && !folder && every('download') && acts.makeFrom() ? [entry(t('templates.menu'), () => acts.makeFrom()?.(thing))] : []),
        ...(all.every(movable) ? [entry(t('deletion.menu'), () => acts.remove(all))] : []),
        ...(every('change') && all.every((o) => o.kind === 'document' && !o.held)
          ? [entry(t('checkout.do'), () => acts.checkOut(all))]
          : []),
        ...(alone && thing.may.includes('change') ? [entry(t('slip.rename'), () => acts.rename(thing, contents))] : []),
        ...shifts(thing, contents),
        ...(every('download') ? [fetch, entry(t('dossier.bag'), () => location.assign(bagOf(all)))] : []),
        ...(contents ? [] : [entry(t(isChosen ? 'dossier.unchooseOne' : 'dossier.columns.choose'), () => acts.toggle(thing))]),
      ],
    }
  }
  return { menu, show }
}

const ids = (things: Thing[]) => things.map((o) => o.id)
