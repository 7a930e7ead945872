<script setup lang="ts">
/** How far something has come, in percent; what it is about is said by its label. */
defineProps<{ percent: number; label: string }>()
</script>

<template>
  <progress :value="percent" max="100" :aria-label="label"></progress>
</template>

<style scoped>
progress {
  width: 100%;
  max-width: 440px;
  height: 6px;
  appearance: none;
  border: 0;
  background: var(--tb-line);
}
progress::-webkit-progress-bar {
  background: var(--tb-line);
}
progress::-webkit-progress-value {
  background: var(--tb-action);
}
progress::-moz-progress-bar {
  background: var(--tb-action);
}
</style>
