import { wordlist } from '@scure/bip39/wordlists/english.js'

/** How many words a passphrase has: 66 bits, each guess at which takes about a second. */
const count = 6

/** A passphrase that can be told on the telephone. */
export function offerPassphrase(): string {
  const drawn = crypto.getRandomValues(new Uint16Array(count))
  // There are 2,048 words: a remainder favours none.
  return [...drawn].map((n) => wordlist[n % wordlist.length]).join('-')
}

/** How long a passphrase of one's own is at least. */
export const leastPassphrase = 16
export const isWeak = (passphrase = ''): boolean => passphrase.length < leastPassphrase
