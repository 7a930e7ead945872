import { ref } from 'vue'

/** A recording that is listened to or looked at while one works on. */
export interface Recording {
  id: string
  no: string
  name: string
  video: boolean
}

const queue = ref<Recording[]>([])
const at = ref(0)

/** Plays recordings one after the other, wherever one goes meanwhile. */
export function usePlayer() {
  return {
    queue,
    at,
    play(recordings: Recording[]) {
      queue.value = recordings
      at.value = 0
    },
    stop() {
      queue.value = []
    },
  }
}
