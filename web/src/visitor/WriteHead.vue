<script setup lang="ts">
import { say } from './words'

/** What a visitor writes, and how it stands. */
defineProps<{ title: string; state: string }>()
const emit = defineEmits<{ close: [] }>()
</script>

<template>
  <header role="presentation" class="written-head">
    <h2 id="written-title">{{ title }}</h2>
    <p class="small state" role="status">{{ state }}</p>
    <button type="button" class="btn btn-plain" @click="emit('close')">{{ say('close') }}</button>
  </header>
</template>

<style scoped>
.written-head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px var(--tb-s4);
  min-height: 52px;
  padding: 8px 20px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-line);
}
.written-head h2 {
  font-size: var(--tb-write);
  margin: 0;
  overflow-wrap: anywhere;
}
.state {
  margin: 0 0 0 auto;
}
</style>
