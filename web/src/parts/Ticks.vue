<script setup lang="ts">
/** How far something has come: so many ticks, told without colour; green only at the last. */
defineProps<{ of: number; at: number }>()
</script>

<template>
  <span class="ticks" :class="{ last: at === of }" aria-hidden="true"><i v-for="n in of" :key="n" :class="{ on: n <= at }"></i></span>
</template>

<style scoped>
.ticks {
  display: inline-flex;
  gap: 2px;
  margin-right: 6px;
  vertical-align: -1px;
}
i {
  width: 4px;
  height: 11px;
  border: 1px solid var(--tb-edge);
}
.on {
  background: var(--tb-inside);
  border-color: var(--tb-inside);
}
.last .on {
  background: var(--tb-done);
  border-color: var(--tb-done);
}
</style>
