<script setup lang="ts">
import type { components } from '../api/schema.gen'

/** A sentence of terms that stays visible: its terms stand in ink, the joining words are quiet. */
defineProps<{ sentence: components['schemas']['Part'][] }>()
</script>

<template>
  <span>
    <template v-for="(p, i) in sentence" :key="i">
      <b v-if="p.term" :class="{ nb: p.term === 'until' || p.term === 'openings' }">{{ p.text }}</b>
      <template v-else>{{ p.text }}</template>
    </template>
  </span>
</template>
