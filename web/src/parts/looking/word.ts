import type en from '../../i18n/en/viewer'

/** Says a word of looking at documents, in the language of whoever looks; braces are filled in. */
export type LookWord = (key: keyof (typeof en)['viewer'], fill?: Record<string, string | number>) => string
