import { computed, ref } from 'vue'
import type { Schemas } from '../../api/client'

type Place = Schemas['SigningPlace']
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
  paper: [190, 22],
  fixed: [190, 22],
}
/** By which letter a party is known. */
export const letterOf = (i: number) => String.fromCharCode(65 + i)

export const kinds = Object.keys(usual) as Kind[]

const within = (v: number, size: number) => Math.min(1 - size, Math.max(0, v))
const round = (v: number) => Math.round(v * 1e5) / 1e5

/** Parties and places of a paper, as they are set. */
export function usePlacing(pages: () => { width: number; height: number }[]) {
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
  /** A place as large as it was drawn, where that is large enough to be seen. */
  function draw(page: number, box: Place['box'], kind: Kind, party: number): Place {
    const p = put(page, box.x + box.w / 2, box.y + box.h / 2, kind, party)
    const [w, h] = [Math.max(box.w, 0.015), Math.max(box.h, 0.012)]
    p.box = { x: round(within(box.x, w)), y: round(within(box.y, h)), w: round(w), h: round(h) }
    return p
  }
  /** Edges that nearly meet those of other places on the page do meet. */
  function align(p: Place) {
    const near = 0.005
    for (const o of places.value) {
      if (o.id === p.id || o.page !== p.page) continue
      if (Math.abs(o.box.x - p.box.x) < near) p.box.x = round(within(o.box.x, p.box.w))
      const bottom = o.box.y + o.box.h - p.box.h
      if (Math.abs(bottom - p.box.y) < near) p.box.y = round(within(bottom, p.box.h))
      else if (Math.abs(o.box.y - p.box.y) < near) p.box.y = round(within(o.box.y, p.box.h))
    }
  }
  /** Takes over places that were kept, or found. */
  function take(all: Place[], anew = false) {
    if (anew) places.value = []
    for (const p of all) places.value.push({ ...p, box: { ...p.box }, id: anew ? p.id : next++ })
    next = Math.max(next, ...places.value.map((p) => p.id + 1))
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
  const choose = (id?: number) => (chosen.value = id)
  return { places, chosen, choose, at, put, draw, move, align, resize, remove, onAll, dated, take, ordered }
}

export type Placing = ReturnType<typeof usePlacing>
