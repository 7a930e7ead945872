<script setup lang="ts">
import type { Schemas } from '../api/client'

/** A text in which what was looked for is marked. */
defineProps<{ parts: Schemas['FoundPart'][] }>()
</script>

<template>
  <template v-for="(p, i) in parts" :key="i">
    <mark v-if="p.meant">{{ p.text }}</mark>
    <template v-else>{{ p.text }}</template>
  </template>
</template>

<style scoped>
mark {
  background: var(--tb-selection);
  color: inherit;
  border: 1px solid var(--tb-action);
  border-radius: 3px;
  padding: 0 2px;
}
</style>
