import { onScopeDispose, ref, watchEffect, type MaybeRefOrGetter, toValue } from 'vue'

/** What is open in a place: the name of the window says it first. */
export const thing = ref('')

/** Names what is open here, as long as it is. */
export function useThing(name: MaybeRefOrGetter<string>): void {
  watchEffect(() => (thing.value = toValue(name)))
  onScopeDispose(() => (thing.value = ''))
}
