<script setup lang="ts">
import type { Schemas } from '../api/client'
import { sizeWords, stemOf } from '../i18n/words'
import Bar from '../parts/Bar.vue'
import { language, say } from './words'

/** A file of a transfer: what it is, and how much of it is here. What belongs to it, and its acts, come from whoever shows it. */
const props = defineProps<{ file: Schemas['VisitedFile']; name: string; size: number }>()
const percent = () => (props.file.size ? Math.floor((props.file.received / props.file.size) * 100) : 0)
</script>

<template>
  <li :data-file="name">
    <span class="mark" :class="{ here: file.document }" aria-hidden="true">{{ file.document ? '✓' : '' }}</span>
    <div>
      <h3>{{ stemOf(name) }}</h3>
      <div class="small">{{ name.includes('.') ? `${name.split('.').pop()}, ` : '' }}{{ sizeWords(size, language) }}</div>
      <template v-if="!file.document && file.received">
        <Bar :percent="percent()" :label="name" />
        <div class="small quiet">{{ say(file.fetchable ? 'sentComes' : 'sentLater', { percent: percent() }) }}</div>
      </template>
      <div v-else-if="!file.document" class="small quiet">{{ say('sentWhen') }}</div>
      <slot />
    </div>
    <span class="acts"><slot name="acts" /></span>
  </li>
</template>

<style scoped>
li {
  grid-template-columns: 24px minmax(0, 1fr) auto;
}
.mark {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 1px dashed var(--tb-edge);
}
.mark.here {
  border: 0;
  background: var(--tb-done);
  color: var(--tb-sheet);
}
</style>
