import type { Ref } from 'vue'
import type { Schemas } from '../../api/client'

type Row = Schemas['DocumentRow']

/** Choosing several rows: one by one, or from where one began up to another. */
export function useChoosing(rows: Ref<Row[]>, chosen: () => Row[], choose: (rows: Row[]) => void) {
  let anchor = -1
  const isChosen = (id: string) => chosen().some((c) => c.id === id)

  function toggle(index: number, range: boolean) {
    const row = rows.value[index]
    if (!row) return
    if (range && anchor >= 0) {
      const [from, to] = [Math.min(anchor, index), Math.max(anchor, index)]
      choose([...chosen(), ...rows.value.slice(from, to + 1).filter((r) => !isChosen(r.id))])
      return
    }
    anchor = index
    choose(isChosen(row.id) ? chosen().filter((c) => c.id !== row.id) : [...chosen(), row])
  }
  /** From here a range would go. */
  const begin = (index: number) => void (anchor = index)

  return { isChosen, toggle, begin }
}
