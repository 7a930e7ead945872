import { defineStore } from 'pinia'
import { api, data, type Schemas } from '../api/client'
import { shallowRef } from 'vue'
import type { Stream } from '../sealed/age'
import { sealedGuise } from '../sealed/reader'
import { useComing, type Coming } from './coming'

/** A file of one's own that is sent as one that was announced. */
export interface Sent {
  file: File
  announced: Schemas['TransferFile']
  /** How it is sealed, where it is. */
  stream?: Stream
}

/** Files on their way into transfers. They go on while one is elsewhere in the application, and after a reload once they are chosen again. */
export const useSending = defineStore('sending', () => {
  /** What was dropped where a transfer begins, for the page on which it is written. */
  const laid = shallowRef<File[]>([])
  const { all, active, bring, clear } = useComing({
    endpoint: '/api/uploads',
    arrived: async (_, id) => {
      await data(api.GET('/uploads/{id}/outcome', { params: { path: { id } } }))
    },
  })
  function send(folder: string, files: Sent[]): void {
    for (const { file, announced, stream } of files)
      bring([{ file, path: '', guise: stream && sealedGuise(announced, file, stream) }], { folder, announced: announced.id })
  }
  /** What is on its way as an announced file. */
  const of = (announced: string): Coming | undefined => all.value.findLast((c) => c.to.announced === announced)
  return { all, active, laid, send, of, clear }
})

/** Pairs files with those that were announced and are not here: by name and size, each once. */
export function paired(files: File[], announced: Schemas['TransferFile'][]): Sent[] {
  const left = announced.filter((a) => !a.here)
  return files.flatMap((file) => {
    const at = left.findIndex((a) => a.name === file.name && a.size === file.size)
    const same = at >= 0 ? at : left.findIndex((a) => a.size === file.size)
    return same < 0 ? [] : [{ file, announced: left.splice(same, 1)[0]! }]
  })
}
