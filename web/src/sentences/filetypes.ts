/** What papers people look for, by the ending of their names. */
export const fileTypes = ['papers', 'tables', 'pictures', 'recordings', 'others'] as const
export type FileType = (typeof fileTypes)[number]

const endings: Partial<Record<FileType, string[]>> = {
  papers: ['pdf', 'doc', 'docx', 'odt', 'rtf', 'txt', 'md', 'markdown', 'ppt', 'pptx', 'odp', 'eml', 'html'],
  tables: ['csv', 'tsv', 'xls', 'xlsx', 'ods'],
  pictures: ['jpg', 'jpeg', 'png', 'gif', 'webp', 'avif', 'bmp', 'svg', 'tif', 'tiff', 'heic'],
  recordings: ['mp3', 'm4a', 'wav', 'ogg', 'flac', 'aac', 'mp4', 'mov', 'webm', 'avi'],
}

/** Which of them a document is, by its name. */
export function fileTypeOf(name: string): FileType {
  const ending = name.slice(name.lastIndexOf('.') + 1).toLowerCase()
  return fileTypes.find((t) => endings[t]?.includes(ending)) ?? 'others'
}
