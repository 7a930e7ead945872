import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'

type Place = Schemas['SigningPlace']
type Party = Schemas['SigningParty']
export type Kind = Place['kind']

/** How large a place is at first, in points of the page. */
const usual: Record<Kind, [number, number]> = {
  signature: [170, 42],
  initials: [60, 28],
  'signed-on': [96, 22],
  date: [96, 22],
  text: [190, 22],
  number: [90, 22],
  choice: [130, 22],
  tick: [18, 18],
  fixed: [190, 22],
}
export const kinds = Object.keys(usual) as Kind[]

const within = (v: number, size: number) => Math.min(1 - size, Math.max(0, v))
const round = (v: number) => Math.round(v * 1e5) / 1e5

/** Parties and places of a paper, as they are set. */
export function usePlacing(pages: () => { width: number; height: number }[]) {
  const parties = ref<Party[]>([])
  const places = ref<Place[]>([])
  const chosen = ref<number>()
  const at = computed(() => places.value.find((p) => p.id === chosen.value))
  let next = 1

  function put(page: number, x: number, y: number, kind: Kind, party: number): Place {
    const size = pages()[page - 1] ?? { width: 595, height: 842 }
    const [w, h] = [usual[kind][0] / size.width, usual[kind][1] / size.height]
    const p: Place = {
      id: next++,
      party,
      page,
      kind,
      must: kind !== 'text' && kind !== 'choice',
      box: { x: round(within(x - w / 2, w)), y: round(within(y - h / 2, h)), w: round(w), h: round(h) },
      ...(kind === 'choice' ? { choices: ['yes', 'no'] } : {}),
      ...(kind === 'fixed' ? { value: '' } : {}),
    }
    places.value.push(p)
    chosen.value = p.id
    return p
  }
  function move(p: Place, dx: number, dy: number) {
    p.box.x = round(within(p.box.x + dx, p.box.w))
    p.box.y = round(within(p.box.y + dy, p.box.h))
  }
  function resize(p: Place, dw: number, dh: number) {
    p.box.w = round(Math.min(1 - p.box.x, Math.max(0.012, p.box.w + dw)))
    p.box.h = round(Math.min(1 - p.box.y, Math.max(0.01, p.box.h + dh)))
  }
  function remove(p: Place) {
    places.value = places.value.filter((o) => o.id !== p.id)
    if (chosen.value === p.id) chosen.value = undefined
  }
  /** The same place on all other pages. */
  function onAll(p: Place) {
    for (let n = 1; n <= pages().length; n++) {
      if (places.value.some((o) => o.page === n && o.kind === p.kind && o.party === p.party && o.box.x === p.box.x && o.box.y === p.box.y))
        continue
      places.value.push({ ...p, id: next++, page: n, box: { ...p.box } })
    }
  }
  /** Beside a place, the day on which its party signs. */
  function dated(p: Place) {
    const d = put(p.page, 0, 0, 'signed-on', p.party)
    d.box.x = round(within(p.box.x + p.box.w + 0.01, d.box.w))
    d.box.y = round(within(p.box.y + p.box.h - d.box.h, d.box.h))
    d.must = false
    chosen.value = p.id
  }
  /** In the order in which they are walked. */
  const ordered = computed(() => [...places.value].sort((a, b) => a.page - b.page || a.box.y - b.box.y || a.box.x - b.box.x))
  return { parties, places, chosen, at, put, move, resize, remove, onAll, dated, ordered }
}
