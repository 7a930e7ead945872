import { computed, type Ref } from 'vue'
import type { Thing } from './things'

/** Choosing several things: one by one, or from where one began up to another. */
export function useChoosing(things: Ref<Thing[]>, chosen: () => Thing[], choose: (things: Thing[]) => void) {
  let anchor = ''
  const ids = computed(() => new Set(chosen().map((c) => c.id)))
  const isChosen = (id: string) => ids.value.has(id)

  function toggle(id: string, range: boolean) {
    const [from, to] = [anchor, id].map((i) => things.value.findIndex((t) => t.id === i))
    const thing = things.value[to]
    if (!thing) return
    if (range && from >= 0) {
      const between = things.value.slice(Math.min(from, to), Math.max(from, to) + 1)
      choose([...chosen(), ...between.filter((t) => !isChosen(t.id))])
      return
    }
    anchor = id
    choose(isChosen(id) ? chosen().filter((c) => c.id !== id) : [...chosen(), thing])
  }
  /** From here a range would go. */
  const begin = (id: string) => void (anchor = id)

  return { isChosen, toggle, begin }
}
