<script setup lang="ts">
import { sizeWords } from '../i18n/words'
import { progress, type Coming } from '../uploads/coming'
import { language, say } from './words'

/** How far a file has come, or why it was refused. */
defineProps<{ file: Coming; refusal: string }>()
</script>

<template>
  <p v-if="file.state === 'refused'" class="small wrong" role="alert">{{ refusal }}</p>
  <template v-else>
    <div
      class="bar"
      role="progressbar"
      :aria-valuenow="progress.percent(file)"
      aria-valuemin="0"
      aria-valuemax="100"
      :aria-label="progress.name(file)"
    >
      <i :style="{ width: `${progress.percent(file)}%` }"></i>
    </div>
    <p class="small">
      <b>{{ progress.percent(file) }} %</b>
      {{ ' ' }}
      <span class="quiet">{{ file.offline ? say('goesOn') : sizeWords(file.size, language) }}</span>
    </p>
  </template>
</template>

<style scoped>
.bar {
  height: 6px;
  background: var(--tb-line);
  border-radius: 3px;
  margin: var(--tb-s2) 0 var(--tb-s1);
  max-width: 420px;
}
.bar i {
  display: block;
  height: 6px;
  background: var(--tb-action);
  border-radius: 3px;
}
</style>
