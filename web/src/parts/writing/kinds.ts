/** Word-processing documents (ISO/IEC 29500-1). */
export const word = 'application/vnd.openxmlformats-officedocument.wordprocessingml.document'

/** Whether a document of a kind is written together as a text. */
export const isText = (mediaType: string | undefined) => mediaType === 'text/markdown' || mediaType === word
