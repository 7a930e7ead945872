import { isText, isWritten, tables, word } from '../parts/writing/kinds'

/** Where a document is written together, if it is of a kind that is: a text, or a table. */
export function writtenAt(id: string, mediaType: string | undefined): string | undefined {
  if (isText(mediaType)) return `/write/${id}`
  return isWritten(mediaType) ? `/table/${id}` : undefined
}

/** The kinds of documents that are written, by the endings of their names. */
const kinds: Record<string, string> = { md: 'text/markdown', docx: word, csv: 'text/csv', tsv: tables[1]!, xlsx: tables[2]! }

/** Where a document of a name is written together, if its ending says that it is of a kind that is. */
export const writtenAs = (id: string, name: string) => writtenAt(id, kinds[name.split('.').at(-1)!.toLowerCase()])
