<script setup lang="ts" generic="T extends string | boolean | number">
/** A word of a sentence that is chosen from a list; the sentence's comma or stop stands right behind it. */
defineOptions({ inheritAttrs: false })
defineProps<{ label: string; options: { value: T; words: string }[]; then?: ',' | '.' | ':' }>()
const chosen = defineModel<T>({ required: true })
</script>

<template>
  <span :class="{ 'with-comma': then === ',', 'with-stop': then === '.', 'with-colon': then === ':' }">
    <select v-model="chosen" class="w choice" v-bind="$attrs" :aria-label="label">
      <option v-for="o in options" :key="String(o.value)" :value="o.value">{{ o.words }}</option>
    </select>
  </span>
</template>

<style scoped>
.choice {
  border: 0;
  background: none;
  appearance: none;
  padding: 0;
  cursor: pointer;
  field-sizing: content;
  /* The line below it: not every browser underlines a list's word. */
  text-decoration: none;
  box-shadow: inset 0 -1px 0 var(--tb-action);
  max-width: 100%;
}
.choice option {
  background: var(--tb-sheet);
  color: var(--tb-ink);
  font-family: var(--bs-font-sans-serif);
}
</style>
