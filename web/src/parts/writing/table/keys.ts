import { mostColumns } from './book'

/** What the keys of a grid can do. */
export interface KeyActs {
  /** Goes to a cell, by where it is seen; extend keeps where the choice began. */
  go: (v: number, c: number, extend?: boolean) => void
  edit: (anew?: boolean) => void
  all: () => void
  clear: () => void
  undo: () => void
  redo: () => void
  fill: () => void
}

/** Where one is, and how far one can go. */
export interface Extent {
  v: number
  c: number
  /** How many rows and columns there are, how many of the rows are headings, and how many are in sight. */
  rows: number
  columns: number
  head: number
  page: number
}

/** The keys of a grid of cells (WAI-ARIA Authoring Practices, grid); false where a key is none of them. */
export function gridKey(e: KeyboardEvent, { v, c, rows, columns, head, page }: Extent, acts: KeyActs): boolean {
  const far = e.ctrlKey || e.metaKey
  const to = (v: number, c: number) => {
    acts.go(v, c, e.shiftKey && e.key !== 'Tab')
    return true
  }
  switch (e.key) {
    case 'ArrowUp':
      return to(far ? head : v - 1, c)
    case 'ArrowDown':
      return to(far ? rows - 1 : v + 1, c)
    case 'ArrowLeft':
      return to(v, far ? 0 : c - 1)
    case 'ArrowRight':
      return to(v, far ? mostColumns : c + 1)
    case 'PageUp':
      return to(v - page, c)
    case 'PageDown':
      return to(v + page, c)
    case 'Home':
      return to(far ? 0 : v, 0)
    case 'End':
      return to(far ? rows - 1 : v, mostColumns)
    case 'Escape':
      return to(v, c)
    case 'Tab':
      // Beyond the first and the last column one goes on to what is around.
      return (e.shiftKey ? c > 0 : c < columns - 1) && to(v, c + (e.shiftKey ? -1 : 1))
    case 'Enter':
    case 'F2':
      acts.edit()
      return true
    case 'Delete':
    case 'Backspace':
      acts.clear()
      return true
  }
  return far ? command(e, acts) : false
}

function command(e: KeyboardEvent, acts: KeyActs): boolean {
  switch (e.key.toLowerCase()) {
    case 'z':
      if (e.shiftKey) acts.redo()
      else acts.undo()
      return true
    case 'y':
      acts.redo()
      return true
    case 'd':
      acts.fill()
      return true
    case 'a':
      acts.all()
      return true
  }
  return false
}

/** Whether a key begins to write into a cell: it is left to the cell's field, also where several keys make a letter. */
export const begins = (e: KeyboardEvent) =>
  (e.key.length === 1 && !e.ctrlKey && !e.metaKey && !e.altKey) || e.key === 'Dead' || e.key === 'Process'
