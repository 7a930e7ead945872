import type { Schemas } from '../api/client'

const kinds = {
  pdf: 'pdf',
  picture: 'picture',
  sound: 'sound',
  video: 'video',
  table: 'table',
  text: 'text',
  markdown: 'text',
  archive: 'other',
  none: 'other',
} as const

/** What a file is, in the page's words; what is only shown in drawn pages is told by its type. */
export function kindOf(f: Schemas['LinkFile']) {
  if (f.look !== 'pages') return kinds[f.look]
  if (f.mediaType === 'application/pdf') return 'pdf'
  if (/word|opendocument.text|presentation|powerpoint/.test(f.mediaType)) return 'document'
  return f.mediaType.startsWith('image/') ? 'picture' : /csv|tab-sep|spreadsheet/.test(f.mediaType) ? 'table' : 'text'
}
