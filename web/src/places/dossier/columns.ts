import { computed, ref, toValue, watch, type MaybeRefOrGetter } from 'vue'
import { useParticulars } from '../../queries/particulars'

/** How many particulars stand in columns; where there is little width it is one. */
export const most = 4

/** The particulars that stand as columns in a folder's register, as somebody chose them for it. */
export function useColumns(folder: MaybeRefOrGetter<string>, little: MaybeRefOrGetter<boolean>) {
  const { data: defined } = useParticulars()
  const name = () => `columns ${toValue(folder)}`
  const read = (): string[] => (localStorage.getItem(name()) ?? '').split(' ').filter(Boolean)
  const chosenColumns = ref(read())
  watch(
    () => toValue(folder),
    () => (chosenColumns.value = read()),
    { flush: 'sync' },
  )
  watch(chosenColumns, (ids) => {
    if (ids.length) localStorage.setItem(name(), ids.join(' '))
    else localStorage.removeItem(name())
  })
  const columns = computed(() =>
    chosenColumns.value.flatMap((id) => defined.value?.filter((p) => p.id === id) ?? []).slice(0, toValue(little) ? 1 : most),
  )
  return { defined, chosenColumns, columns }
}
