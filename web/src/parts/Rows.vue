<script setup lang="ts">
/**
 * A table to read and compare. On a narrow window each row folds into a card: its first cell leads, the main one stands
 * beside it with the act at its side, and further ones are lines below; a cell says which by its class (f-lead, f-main,
 * f-side, f-line, f-away). What goes over the whole row has the class whole.
 */
export interface Column {
  /** Its heading; said to screen readers alone where hidden. */
  words?: string
  hidden?: boolean
  width?: number
  right?: boolean
  /** It is left out on a narrow window. */
  away?: boolean
}
const { height = 46, lead = 32 } = defineProps<{ columns: Column[]; label: string; height?: number; lead?: number }>()
</script>

<template>
  <table class="register rows" :aria-label="label" :style="{ '--row-height': `${height}px`, '--lead-width': `${lead}px` }">
    <colgroup>
      <col v-for="(c, i) in columns" :key="i" :class="{ 'f-away': c.away }" :style="c.width ? { width: `${c.width}px` } : undefined" />
    </colgroup>
    <thead>
      <tr>
        <component
          :is="c.words ? 'th' : 'td'"
          v-for="(c, i) in columns"
          :key="i"
          :class="{ r: c.right }"
          :scope="c.words ? 'col' : undefined"
        >
          <span :class="{ 'visually-hidden': c.hidden }">{{ c.words }}</span>
        </component>
      </tr>
    </thead>
    <slot />
  </table>
</template>

<style scoped>
thead td {
  height: 28px;
  border-bottom: 1px solid var(--tb-rule);
}
@media (max-width: 900px) {
  thead,
  colgroup {
    display: none;
  }
  .rows {
    display: block;
  }
}
</style>
