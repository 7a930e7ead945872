import { computed, ref, watch, type Ref } from 'vue'
import type { Schemas } from '../../api/client'
import type { Named } from '../sharing/PeopleField.vue'

export type Row = Schemas['FormRow']

const address = (n: Named) => n.email ?? n.address ?? ''
const key = (r: Row) => r.people.map((p) => p.person ?? p.email).join('|')
const personOf = (n: Named): Schemas['FormPerson'] =>
  n.id && !n.address && !n.email
    ? { name: n.name, email: '', person: n.id }
    : { name: n.id ? n.name : address(n).split('@')[0]!, email: address(n) }

/**
 * To whom a form is sent, with the words of each: named in a field for each party who is asked for, or brought in a table. Where
 * one party is asked for each name makes a sending of its own.
 */
export function useRows(asked: Ref<number>) {
  const to = ref<Named[][]>([])
  const rows = ref<Row[]>([])
  const table = ref(false)
  watch(asked, (n) => (to.value = Array.from({ length: n }, (_, i) => to.value[i] ?? [])), { immediate: true })
  watch(
    to,
    (all) => {
      if (table.value) return
      const people = (list: Named[]) => list.filter((n) => (n.id ? n.kind === 'person' : true))
      const sets =
        all.length === 1
          ? people(all[0]!).map((n) => [n])
          : all.length && all.every((l) => people(l).length)
            ? [all.map((l) => people(l).at(-1)!)]
            : []
      const before = new Map(rows.value.map((r) => [key(r), r]))
      rows.value = (asked.value ? sets.map((set) => ({ people: set.map(personOf), values: {} })) : [{ people: [], values: {} }]).map(
        (r) => before.get(key(r)) ?? r,
      )
    },
    { deep: true, immediate: true },
  )
  function bring(all: Row[]) {
    table.value = true
    rows.value = all
  }
  function clear() {
    table.value = false
    to.value = to.value.map(() => [])
    rows.value = []
  }
  const remove = (i: number) => (rows.value = rows.value.filter((_, n) => n !== i))
  return { to, rows, table, bring, clear, remove, many: computed(() => rows.value.length > 1) }
}
