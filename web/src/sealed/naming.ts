import type { SealedFile } from './manifest'

/** How a file is called while it travels sealed for somebody's published key: its name stands in a list. */
export const travellingName = (id: string): string => `${id}.age`

/** What a file that travelled under a name is, in a list. */
export const namedIn = (files: SealedFile[] | undefined, name: string): SealedFile | undefined =>
  files?.find((f) => travellingName(f.id) === name)
