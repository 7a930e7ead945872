/** What is dragged within the application: ids of items, separated by blanks. */
export const dragType = 'application/x-tabularis-items'

export function drag(e: DragEvent, ids: string[]): void {
  e.dataTransfer?.setData(dragType, ids.join(' '))
  if (e.dataTransfer) e.dataTransfer.effectAllowed = 'move'
}

export function draggedItems(e: DragEvent): string[] {
  return (e.dataTransfer?.getData(dragType) ?? '').split(' ').filter(Boolean)
}
