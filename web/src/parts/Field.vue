<script setup lang="ts">
import { useId } from 'vue'

/** A field with its label above, and below it what helps or what is wrong; its ids are made. What is typed into comes in by the slot. */
defineProps<{ label: string; hint?: string; wrong?: string; quiet?: boolean }>()
const id = useId()
</script>

<template>
  <div class="field">
    <label :for="id" :class="{ 'small quiet': quiet }">{{ label }}</label>
    <slot :id="id" :described="wrong || hint ? `${id}-said` : undefined" />
    <p v-if="wrong" :id="`${id}-said`" class="wrong" role="alert">{{ wrong }}</p>
    <p v-else-if="hint" :id="`${id}-said`" class="small quiet said">{{ hint }}</p>
  </div>
</template>

<style scoped>
.said {
  margin-top: var(--tb-s1);
}
</style>
