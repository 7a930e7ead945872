const tables = ['text/csv', 'text/tab-separated-values', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet']

/** Word-processing documents (ISO/IEC 29500-1). */
export const word = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'

/** Where a document is written together, if it is of a kind that is: a text, or a table. */
export function writtenAt(id: string, mediaType: string | undefined): string | undefined {
  if (mediaType === 'text/markdown' || mediaType === word) return `/write/${id}`
  return mediaType && tables.includes(mediaType) ? `/table/${id}` : undefined
}
