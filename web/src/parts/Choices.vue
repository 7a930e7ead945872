<script setup lang="ts" generic="T extends string">
import { onArrows, tabStop } from './arrows'

/** One of several, each with a word on what it means: below a word of a sentence that is being written. */
defineProps<{
  options: { value: T; words: string; why: string; disabled?: boolean }[]
  chosen: T
  label: string
}>()
defineEmits<{ choose: [value: T] }>()
</script>

<template>
  <div role="radiogroup" class="choices" :aria-label="label" @keydown="onArrows">
    <button
      v-for="(o, i) in options"
      :key="o.value"
      type="button"
      role="radio"
      :aria-checked="chosen === o.value"
      :disabled="o.disabled"
      :tabindex="tabStop(chosen === o.value, !options.some((x) => x.value === chosen), i === 0)"
      @click="$emit('choose', o.value)"
    >
      <b>{{ o.words }}</b>
      {{ ' ' }}
      <span class="quiet">{{ o.why }}</span>
    </button>
    <slot />
  </div>
</template>

<style scoped>
.choices {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 6px;
}
.choices button {
  text-align: left;
  padding: 3px 8px;
  border: 1px solid transparent;
  border-radius: 3px;
}
.choices [aria-checked='true'] {
  border-color: var(--tb-action);
  background: var(--tb-sheet);
}
.choices b {
  font-weight: 600;
  color: var(--tb-action);
}
</style>
