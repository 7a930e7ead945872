<script setup lang="ts">
/** A run in small: a dot for each stop, filled where it was, larger where it is. Beside it stands in words what they say. */
defineProps<{ stops: { state: 'passed' | 'by' | 'skipped' | 'now' | 'held' | 'back' | 'ahead' }[] }>()
</script>

<template>
  <span class="dots" aria-hidden="true">
    <i v-for="(s, i) in stops.slice(0, 12)" :key="i" :class="s.state"></i>
    <small v-if="stops.length > 12">…</small>
  </span>
</template>

<style scoped>
.dots {
  display: inline-flex;
  align-items: center;
  gap: 5px;
}
i {
  position: relative;
  width: 7px;
  height: 7px;
  border: 1px solid var(--tb-ink);
  border-radius: 50%;
}
i + i::before {
  content: '';
  position: absolute;
  right: 100%;
  top: 2px;
  width: 5px;
  border-top: 1px solid var(--tb-edge);
}
.passed {
  background: var(--tb-ink);
}
.by,
.skipped,
.ahead {
  border-color: var(--tb-edge);
}
.now,
.back {
  width: 9px;
  height: 9px;
  background: var(--tb-action);
  border-color: var(--tb-action);
}
.back {
  border-radius: 0;
  transform: rotate(45deg);
}
.held {
  width: 9px;
  height: 9px;
  border-radius: 0;
  background: var(--tb-ink);
}
</style>
