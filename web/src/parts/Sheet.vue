<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useFocusReturn } from './focus'

/** A sheet on which something is written beside what it is about: not modal, put away by Escape; focus goes back to where it was. */
defineProps<{ label: string; busy?: boolean }>()
const emit = defineEmits<{ escape: [] }>()
useFocusReturn()
const root = ref<HTMLElement>()
// So that Escape puts it away, also where no field of it takes the cursor.
onMounted(() => {
  if (!root.value?.contains(document.activeElement) && !root.value?.querySelector('[autofocus]')) root.value?.focus({ preventScroll: true })
})
</script>

<template>
  <section
    ref="root"
    class="desk-sheet"
    role="dialog"
    tabindex="-1"
    :aria-busy="busy"
    :aria-label="label"
    @keydown.esc.stop="emit('escape')"
  >
    <slot />
  </section>
</template>
