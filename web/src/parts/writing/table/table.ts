import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, triggerRef } from 'vue'
import type { Schemas } from '../../../api/client'
import { usePage } from '../page'
import type { Ways } from '../ways'
import { across, applied, cellAt, inverse, mostColumns, placeOver, readBook, type Book, type Step } from './book'

type Result = Schemas['TableResult']
const keyOf = (sheet: number, r: number, c: number) => `${sheet}/${r}/${c}`

/** How many acts can be undone. */
const mostUndone = 100
/** How many cells go in one step, and how many steps at once: a request holds so much. */
const cellsAtOnce = 1500
const stepsAtOnce = 200
const lettersAtOnce = 250_000

/** Where somebody is: from one cell to another, of a sheet. */
export interface Chosen {
  sheet: number
  anchor: { r: number; c: number }
  head: { r: number; c: number }
}
const placed = (p: { r: number; c: number }) => p.r * mostColumns + p.c
const placeOf = (n: number) => ({ r: Math.floor(n / mostColumns), c: n % mostColumns })

/** A table that is open in this page: what stands, what was done here since, and the line to the server. */
export function useTable(ways: Ways, me: string, told: { becameText: () => void }, asPage?: string) {
  const sitting = usePage(ways, me, asPage)
  const { page, mode, stands, lost, opening, come, know } = sitting

  /** What stands, and with it what was done here. */
  let standing: Book = []
  const book = shallowRef<Book>([])
  const stays = ref<string[]>([])
  const manner = shallowRef<Schemas['TableManner']>()
  let version = 0
  /** What is under way, and what waits for it. */
  let flight: Step[] = []
  let waiting: Step[] = []
  let undoable: Step[][] = []
  let redoable: Step[][] = []
  const results = shallowRef(new Map<string, Result>())
  const carets = shallowRef(new Map<string, Chosen>())
  const changes = ref(0)
  /** Counts what formulas came to anew. */
  const reckoned = ref(0)
  let where: Chosen | undefined

  const sheetNames = () => standing.map((s) => s.name)
  const writes = computed(() => stands.value !== 'ended' && mode.value === 'write')

  function show() {
    book.value = [...flight, ...waiting].reduce(applied, standing)
    changes.value++
  }

  /** What formulas come to, and where others are, goes along with rows and columns. */
  function goAlong(steps: Step[]) {
    const moves = steps.filter((s) => s.op === 'rows' || s.op === 'columns')
    for (const s of moves) {
      const next = new Map<string, Result>()
      for (const r of results.value.values()) {
        const to = r.sheet === s.sheet ? placeOver({ r: r.row, c: r.column }, s) : { r: r.row, c: r.column }
        if (to) next.set(keyOf(r.sheet, to.r, to.c), { ...r, row: to.r, column: to.c })
      }
      results.value = next
      for (const [who, at] of carets.value)
        if (at.sheet === s.sheet)
          carets.value.set(who, { ...at, anchor: placeOver(at.anchor, s) ?? at.anchor, head: placeOver(at.head, s) ?? at.head })
    }
    if (moves.length) triggerRef(carets)
  }

  /** Does something: it is seen at once, and stands once the server says so. */
  function act(steps: Step[]) {
    if (!writes.value || !steps.length) return
    undoable.push(perform(steps))
    undoable = undoable.slice(-mostUndone)
    redoable = []
  }

  /** Does steps, and gives what undoes them. */
  function perform(steps: Step[]): Step[] {
    const undo: Step[] = []
    for (const made of steps) {
      const s = seen(book.value, made)
      undo.unshift(...inverse(book.value, s))
      waiting.push(...portions(s))
      book.value = applied(book.value, s)
      goAlong([s])
    }
    changes.value++
    sitting.send()
    return undo
  }

  function back(from: Step[][], to: Step[][]) {
    const steps = from.pop()
    if (steps?.length && writes.value) to.push(perform(steps))
  }

  /** Takes over what others did: what was done here, and what undoes it, is carried over that. */
  function takeOver(theirs: Step[]) {
    const all = sheetNames()
    for (const s of theirs) standing = applied(standing, s)
    let rest = theirs
    ;[flight, rest] = across(flight, rest, all)
    ;[waiting, rest] = across(waiting, rest, all)
    goAlong(rest)
    const carry = (stack: Step[][]) => {
      let over = rest
      for (let i = stack.length - 1; i >= 0; i--) [stack[i], over] = across(stack[i]!, over, all)
    }
    carry(undoable)
    carry(redoable)
  }

  const script = {
    version: () => version,
    sendable: () => {
      if (!flight.length) flight = waiting.splice(0, stepsOf(waiting))
      return flight.length ? { version, steps: flight } : undefined
    },
    taken: (count: number) => {
      // Nothing was left of it.
      if (!count) flight = []
    },
    take: (b: Schemas['WritingBatch']) => {
      const steps = b.steps as unknown as Step[]
      if (b.page === page) {
        for (const s of steps) standing = applied(standing, s)
        flight = []
      } else takeOver(steps)
      version = b.version + b.steps.length
      show()
    },
    caret: () => where && { version: version + flight.length, sheet: where.sheet, anchor: placed(where.anchor), head: placed(where.head) },
  }

  function begin(o: Schemas['WritingOpening']) {
    if (o.table) {
      standing = readBook(o.table)
      stays.value = o.table.stays ?? []
      manner.value = o.table.manner
      flight = []
      waiting = []
      undoable = []
      redoable = []
      version = o.version
    }
    opening.value = { ...o, table: undefined }
    know(o.authors)
    mode.value = o.mode
    show()
  }

  /** Who is here, and where. */
  function comeTo(all: Schemas['WritingPerson'][]) {
    come(all)
    const there = new Map<string, Chosen>()
    for (const p of all) {
      const was = carets.value.get(p.page)
      if (p.caret) there.set(p.page, chosenOf(p.caret))
      else if (was) there.set(p.page, was)
    }
    carets.value = there
  }

  function hear(all: Result[]) {
    for (const r of all) results.value.set(keyOf(r.sheet, r.row, r.column), r)
    triggerRef(results)
    reckoned.value++
  }

  const open = () =>
    sitting.open((m) => {
      begin(m.opening!)
      hear(m.results ?? [])
      comeTo(m.people ?? [])
      sitting.goOn(script, {
        anew: (next, unsent) => {
          // It has become another kind of document.
          if (next.text) return told.becameText()
          if (unsent)
            lost.value = [...flight, ...waiting]
              .flatMap((s) => (s.cells ?? []).map((e) => e.t))
              .filter(Boolean)
              .join('\n')
          results.value = new Map()
          begin(next)
        },
        people: comeTo,
        caret: (c) => {
          if (!c.page) return
          carets.value.set(c.page, chosenOf(c))
          triggerRef(carets)
        },
        mode: (m) => (mode.value = m),
        results: hear,
      })
    })

  function move(to: Chosen) {
    where = to
    sitting.tellCaret()
  }

  /** What was changed since the last version, asked for some moments after something was. */
  const changed = shallowRef<Schemas['CellChange'][]>([])
  const askChanged = useDebounceFn(
    async () => {
      if (stands.value !== 'live') return
      const all = await ways.changes()
      know(all.authors)
      changed.value = all.changes
    },
    800,
    { maxWait: 3000 },
  )

  return {
    ...sitting,
    open,
    writes,
    book,
    stays,
    manner,
    changes,
    reckoned,
    carets,
    changed,
    askChanged,
    resultAt: (sheet: number, r: number, c: number) => results.value.get(keyOf(sheet, r, c)),
    act,
    undo: () => back(undoable, redoable),
    redo: () => back(redoable, undoable),
    move,
  }
}

export type Table = ReturnType<typeof useTable>

const chosenOf = (c: Schemas['WritingCaret']): Chosen => ({ sheet: c.sheet ?? 0, anchor: placeOf(c.anchor), head: placeOf(c.head) })

/** A step that says what was seen where it writes: somebody may have written something else there meanwhile. */
function seen(book: Book, s: Step): Step {
  return s.op === 'set' ? { ...s, cells: s.cells!.map((e) => ({ ...e, s: cellAt(book[s.sheet], e.r, e.c).t })) } : s
}

/** A step in portions that can be sent. */
function portions(s: Step): Step[] {
  if (s.op !== 'set') return [s]
  const all: Step[] = []
  let length = 0
  for (const e of s.cells!) {
    const last = all.at(-1)
    length += e.t.length + 30
    if (last && last.cells!.length < cellsAtOnce && length < lettersAtOnce) last.cells!.push(e)
    else {
      all.push({ ...s, cells: [e] })
      length = e.t.length
    }
  }
  return all
}

/** How many of the waiting steps go at once. */
function stepsOf(waiting: Step[]): number {
  let [n, length] = [0, 0]
  while (n < waiting.length && n < stepsAtOnce) {
    length += JSON.stringify(waiting[n]).length
    if (n && length > lettersAtOnce) break
    n++
  }
  return n
}
