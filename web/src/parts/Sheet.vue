<script setup lang="ts">
import { useFocusReturn } from './focus'

/** A sheet on which something is written beside what it is about: not modal, put away by Escape; focus goes back to where it was. */
defineProps<{ label: string; busy?: boolean }>()
const emit = defineEmits<{ escape: [] }>()
useFocusReturn()
</script>

<template>
  <section class="desk-sheet" role="dialog" :aria-busy="busy" :aria-label="label" @keydown.esc.stop="emit('escape')">
    <slot />
  </section>
</template>
