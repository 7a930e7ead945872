<script setup lang="ts">
import { ref, watch } from 'vue'

/** A word of a sentence that is typed; it counts when one leaves it or presses Enter. */
const props = defineProps<{ label: string; value: string; placeholder?: string; may: boolean; then?: ',' | '.' }>()
const emit = defineEmits<{ set: [value: string] }>()
const typed = ref('')
watch(
  () => props.value,
  (v) => (typed.value = v),
  { immediate: true },
)
function settle() {
  if (typed.value.trim() !== props.value) emit('set', typed.value.trim())
}
</script>

<template>
  <span :class="{ 'with-comma': then === ',', 'with-stop': then === '.' }">
    <input
      v-if="may"
      v-model="typed"
      class="w"
      :aria-label="label"
      :placeholder="placeholder"
      autocomplete="off"
      spellcheck="false"
      @change="settle"
      @keydown.esc="typed = value"
    />
    <b v-else>{{ value || placeholder }}</b>
  </span>
</template>

<style scoped>
input {
  border: 0;
  background: none;
  padding: 0;
  field-sizing: content;
  min-width: 2ch;
  max-width: 100%;
}
input::placeholder {
  color: var(--tb-quiet);
  font-weight: 400;
  opacity: 1;
}
</style>
