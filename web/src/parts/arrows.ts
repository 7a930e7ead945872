/**
 * Arrow keys in a group of choices (WAI-ARIA, radio group): they go from one to the next and choose it, round at the
 * ends. The group is one stop for the Tab key: the chosen one.
 */
export function onArrows(e: KeyboardEvent): void {
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[e.key]
  const group = e.currentTarget
  if (!step || !(group instanceof HTMLElement)) return
  const choices = [...group.querySelectorAll<HTMLElement>('[role=radio]:not([disabled])')]
  const at = choices.indexOf(document.activeElement as HTMLElement)
  if (at < 0) return
  e.preventDefault()
  const next = choices[(at + step + choices.length) % choices.length]
  next?.focus()
  next?.click()
}

/** The place of a choice in the order of Tab: only the chosen one has one, or the first where none is. */
export function tabStop(chosen: boolean, none: boolean, first: boolean): 0 | -1 {
  return chosen || (none && first) ? 0 : -1
}
