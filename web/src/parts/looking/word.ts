import type en from '../../i18n/en/viewer'

/** A cell of a table; row and column count from 1. */
export interface CellPlace {
  sheet: string
  row: number
  column: number
  words: string
}

/** A cell that bears a number, as a place that is talked about. */
export interface MarkedCell extends Omit<CellPlace, 'words'> {
  number: number
  on: boolean
}

/** What was looked for: the page on which one begins to read, the question, and its words as they stand in the text. */
export interface Sought {
  page: number
  asked: string
  words: string[]
}

/** Says a word of looking at documents, in the language of whoever looks; braces are filled in. */
export type LookWord = (key: keyof (typeof en)['viewer'], fill?: Record<string, string | number>) => string
