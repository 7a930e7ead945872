/** Word-processing documents (ISO/IEC 29500-1). */
export const word = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'

/** Whether a document of a kind is written together as a text. */
export const isText = (mediaType: string | undefined) => mediaType === 'text/markdown' || mediaType === word

/** The kinds of documents that are written together as tables: separated values, and spreadsheets (ISO/IEC 29500-1). */
export const tables = ['text/csv', 'text/tab-separated-values', 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet']

/** Whether a document of a kind is written together. */
export const isWritten = (mediaType: string | undefined) => isText(mediaType) || tables.includes(mediaType ?? '')
