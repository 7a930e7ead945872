import { ref, type Ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { inPortions, useDoneWords, type Done } from '../../app/many'
import { whatIf } from '../../queries/sharing'
import { useCopying } from '../sharing/copying'
import { stemOf } from '../../i18n/words'
import { tell } from '../../app/toasts'
import { movable, type Thing } from './things'

/** What was taken up by a key: it is carried along from folder to folder. */
const takenUp = ref<{ things: Thing[]; from: string; move: boolean }>()

/**
 * What is about to be moved: chosen rows, a folder, or what was dragged onto one. What is dropped within its dossier where
 * that changes nobody's access is moved at once, and can be moved back; else nothing happens before it is said what it means.
 */
export function useMoving(
  dossier: Ref<Schemas['Dossier'] | undefined>,
  chosen: Ref<Thing[]>,
  here: () => string | undefined,
  begun: () => void,
) {
  const { t } = useI18n()
  const moving = ref<{ items: string[]; names: string[]; to?: string; copy?: boolean } | null>(null)
  const named = (f: Schemas['Folder']) => `${f.number} ${f.name}`

  const titled = (o: Thing) => (o.kind === 'folder' ? `${o.no} ${o.name}` : o.name)
  function moveThings(things: Thing[], copy = false) {
    begun()
    moving.value = { items: things.map((o) => o.id), names: things.map(titled), copy }
  }
  const { act } = useAct()
  const partly = useDoneWords()
  const bring = (all: string[], to: string) => inPortions(all, (items) => api.POST('/items/move', { body: { items, to } }))
  /** Moves what changes nothing for anybody, and says whether it did. */
  async function movedAtOnce(folder: string, ids: string[], names: string[], from?: string): Promise<boolean> {
    const to = dossier.value?.folders.find((f) => f.id === folder)
    const folders = dossier.value?.folders.filter((f) => ids.includes(f.id)) ?? []
    const rows = ids.filter((id) => !folders.some((f) => f.id === id))
    // Where each of them lies now.
    const origins = [
      ...(rows.length && from ? [{ items: rows, to: from }] : []),
      ...folders.map((f) => ({ items: [f.id], to: f.parentId ?? '' })),
    ]
    if (!to || origins.some((o) => !o.to)) return false
    const consequence = await whatIf({ move: { items: ids, to: folder } }).catch(() => undefined)
    if (!consequence || consequence.effects.length || consequence.links) return false
    const what = names.length === 1 ? stemOf(names[0]) : t('move.things', { n: names.length })
    const place = (f?: Schemas['Folder']) => (f?.number ? named(f) : (dossier.value?.name ?? ''))
    let did: Done<unknown>
    async function back() {
      for (const o of origins) {
        const moved = o.items.filter((id) => did.things.includes(id))
        if (moved.length) await bring(moved, o.to)
      }
    }
    return act(async () => (did = await bring(ids, folder)), {
      done: () => partly(did, t('move.moved', { what, to: place(to) }, names.length)),
      undo: {
        do: back,
        done: t('move.moved', { what, to: place(dossier.value?.folders.find((f) => f.id === origins[0].to)) }, names.length),
      },
      aloud: true,
    })
  }
  /** Copies what nobody else can open by it, and says whether it did. */
  async function copiedAtOnce(folder: string, ids: string[], names: string[]): Promise<boolean> {
    const body = { items: ids, to: folder }
    const consequence = await whatIf({ copy: body }).catch(() => undefined)
    if (!consequence || consequence.effects.length || consequence.links) return false
    const to = dossier.value?.folders.find((f) => f.id === folder)
    const undoable = !!to?.may.includes('delete') || !dossier.value?.folders.some((f) => ids.includes(f.id))
    return copy(body, names, to?.number ? named(to) : (dossier.value?.name ?? ''), undoable)
  }
  const copy = useCopying()
  /** Where the sheet says where to, it is known by its name already. */
  async function movedTo(folder: string) {
    const { items, names, copy } = moving.value!
    if (copy ? await copiedAtOnce(folder, items, names) : await movedAtOnce(folder, items, names, here())) doneMoving()
  }
  async function movedOnto(folder: string, ids: string[]) {
    const known = chosen.value.filter((c) => ids.includes(c.id))
    const folders = dossier.value?.folders.filter((f) => ids.includes(f.id) && !known.some((c) => c.id === f.id)) ?? []
    const names = [...known.map(titled), ...folders.map(named)]
    const ours = names.length === ids.length
    if (ours && (await movedAtOnce(folder, ids, names, here()))) return doneMoving()
    moving.value = { items: ids, names: ours ? names : ids.map(() => t('move.dragged')), to: folder }
  }
  /** Puts what was taken up into a folder: copies of it, or the things themselves. */
  async function put(folder: string) {
    const taken = takenUp.value
    if (!taken) return
    const ids = taken.things.map((o) => o.id)
    const names = taken.things.map(titled)
    const did = taken.move ? await movedAtOnce(folder, ids, names, taken.from) : await copiedAtOnce(folder, ids, names)
    if (!did) moving.value = { items: ids, names, to: folder, copy: !taken.move }
    if (taken.move) takenUp.value = undefined
  }
  function doneMoving() {
    moving.value = null
    chosen.value = []
  }
  /** Takes things up by a key, to put them down elsewhere by another: Ctrl+C or Ctrl+X, and Ctrl+V. */
  function carries(e: KeyboardEvent, things: Thing[], mayAdd: boolean): boolean {
    if (!(e.ctrlKey || e.metaKey) || e.altKey || e.shiftKey || !getSelection()?.isCollapsed) return false
    const cut = e.key === 'x'
    const folder = here()
    if (e.key === 'v' && takenUp.value && mayAdd && folder) void put(folder)
    else if ((e.key === 'c' || cut) && things.length && things.every((o) => (cut ? movable(o) : o.may.includes('download')))) {
      takenUp.value = { things, from: folder ?? '', move: cut }
      tell(
        t(cut ? 'copy.takenToMove' : 'copy.taken', {
          what: things.length === 1 ? stemOf(things[0]!.name) : t('move.things', { n: things.length }),
        }),
      )
    } else return false
    e.preventDefault()
    return true
  }
  return { moving, moveThings, movedOnto, movedTo, doneMoving, carries }
}
