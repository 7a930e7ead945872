<script setup lang="ts">
import { ref } from 'vue'
import { useFocusTrap } from './focus'

/** Something over the whole page: modal, with focus kept within; Escape leads back to where one was. */
defineProps<{ label: string }>()
const emit = defineEmits<{ close: [] }>()
const root = ref<HTMLElement>()
useFocusTrap(root)
</script>

<template>
  <section ref="root" class="over" role="dialog" aria-modal="true" tabindex="-1" :aria-label="label" @keydown.esc.stop="emit('close')">
    <slot />
  </section>
</template>
