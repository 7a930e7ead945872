import { ref } from 'vue'

/** Whether help stands open. */
export const helpOpen = ref(false)
