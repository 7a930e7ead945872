import { sendFile, type Schemas } from '../../api/client'

/** Brings a file to a place of a paper that is signed; what is wrong with it comes back in words. */
export function bringPaper(
  to: string,
  place: number,
  file: File,
  words: (e: unknown) => string,
  more: Record<string, string> = {},
): Promise<Schemas['SigningPaper'] | string> {
  const query = new URLSearchParams({ place: String(place), name: file.name, ...more })
  return sendFile<Schemas['SigningPaper']>(`${to}/papers?${query}`, file).catch(words)
}
