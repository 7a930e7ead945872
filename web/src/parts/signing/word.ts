import type { components } from '../../api/schema.gen'
import type en from '../../i18n/en/signsheet'

type Said = (typeof en)['signsheet']

/** Says a word of signing, in the language of whoever signs; braces are filled in. Groups are reached by a dot. */
export type SignWord = (
  key: keyof Said | `kind.${string}` | `your.${string}` | `over.${string}`,
  fill?: Record<string, string | number>,
) => string

export type Sheet = components['schemas']['SigningSheet']
export type Place = components['schemas']['SigningPlace']
export type Value = components['schemas']['SigningValue']
export type Hand = components['schemas']['SigningHand']

/** Whether a place is written by hand. */
export const byHand = (kind: Place['kind']) => kind === 'signature' || kind === 'initials'

/** Where a place lies on its page, as a style. */
export const boxStyle = (b: Place['box']) => ({
  left: `${b.x * 100}%`,
  top: `${b.y * 100}%`,
  width: `${b.w * 100}%`,
  height: `${b.h * 100}%`,
})

/** Whether something is given at a place. */
export const isGiven = (v?: Value) => !!v && (!!v.text || !!(v.hand?.typed || v.hand?.strokes?.length || v.hand?.picture))
