import { isText } from '../parts/writing/kinds'

const tables = ['text/csv', 'text/tab-separated-values', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet']

/** Where a document is written together, if it is of a kind that is: a text, or a table. */
export function writtenAt(id: string, mediaType: string | undefined): string | undefined {
  if (isText(mediaType)) return `/write/${id}`
  return mediaType && tables.includes(mediaType) ? `/table/${id}` : undefined
}
