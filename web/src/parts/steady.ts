import { computed, type ComputedRef } from 'vue'

/**
 * A list whose entries keep their order when it is read again, so that nothing moves away from under a pointer; what is new
 * stands behind the entry that it follows in the list. Another view of the list begins anew.
 */
export function useSteady<T>(list: () => T[], key: (entry: T) => string, view: () => string): ComputedRef<T[]> {
  let kept: string[] = []
  let of = ''
  return computed(() => {
    const now = new Map(list().map((e) => [key(e), e]))
    if (of !== view()) [of, kept] = [view(), []]
    const order = kept.filter((k) => now.has(k))
    let before: string | undefined
    for (const k of now.keys()) {
      if (!order.includes(k)) order.splice(before === undefined ? 0 : order.indexOf(before) + 1, 0, k)
      before = k
    }
    kept = order
    return order.map((k) => now.get(k)!)
  })
}
