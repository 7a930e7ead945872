import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { byHand, isGiven, type Place, type Sheet, type Value } from './word'

/** What is done with a sheet: it is kept as one goes, and handed in. */
export interface SheetActs {
  keep: (kept: { values: Value[]; pages: number[] }) => Promise<void>
}

/** A party's part as it is filled in: values by their places, pages that were before the eyes, and what is left. */
export function useSheet(sheet: MaybeRefOrGetter<Sheet>, acts: SheetActs) {
  const first = toValue(sheet)
  const values = ref(new Map<number, Value>(first.kept.values.map((v) => [v.place, v])))
  const seen = ref(new Set<number>(first.kept.pages))
  const state = shallowRef<'kept' | 'keeping' | 'failed'>('kept')
  const places = computed(() => toValue(sheet).places)
  const asked = computed(() => places.value.filter((p) => p.kind !== 'signed-on'))
  const given = (p: Place) => isGiven(values.value.get(p.id))
  const left = computed(() => asked.value.filter((p) => p.must && !given(p)))
  const unread = computed(() => toValue(sheet).pages.findIndex((_, i) => !seen.value.has(i + 1)) + 1)
  const kept = () => ({ values: [...values.value.values()], pages: [...seen.value].sort((a, b) => a - b) })
  const keep = useDebounceFn(async () => {
    try {
      await acts.keep(kept())
      state.value = 'kept'
    } catch {
      state.value = 'failed'
    }
  }, 700)
  watch(
    [values, seen],
    () => {
      state.value = 'keeping'
      void keep()
    },
    { deep: true },
  )
  /** Gives something at a place; the first initials go to all places for them. */
  function give(p: Place, v?: Omit<Value, 'place'>) {
    const next = new Map(values.value)
    const to = byHand(p.kind) && v && !given(p) ? [p, ...places.value.filter((o) => o.kind === p.kind && o.id !== p.id && !given(o))] : [p]
    for (const o of to) {
      if (v) next.set(o.id, { place: o.id, ...v })
      else next.delete(o.id)
    }
    values.value = next
  }
  /** The next place that is left after one, from the beginning again after the last. */
  function after(p?: Place): Place | undefined {
    const at = p ? asked.value.findIndex((o) => o.id === p.id) : -1
    const order = [...asked.value.slice(at + 1), ...asked.value.slice(0, at + 1)]
    return order.find((o) => o.must && !given(o)) ?? undefined
  }
  return { values, seen, state, asked, given, left, unread, kept, give, after }
}
