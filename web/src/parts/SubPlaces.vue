<script setup lang="ts">
/** The parts of a place, as a line of words above its heading; a count is of what waits there. */
defineProps<{ label: string; places: { to: string; words: string; here: boolean; waits?: number }[] }>()
</script>

<template>
  <nav class="small" :aria-label="label">
    <template v-for="(p, i) in places" :key="p.to">
      <span v-if="i" class="quiet" aria-hidden="true">·</span>
      <RouterLink :to="p.to" :class="{ here: p.here }" :aria-current="p.here ? 'page' : undefined">
        {{ p.words }}
        <span v-if="p.waits" class="no">{{ p.waits }}</span>
      </RouterLink>
    </template>
  </nav>
</template>

<style scoped>
nav {
  display: flex;
  gap: var(--tb-s2);
  margin-bottom: var(--tb-s1);
}
.here {
  color: var(--tb-ink);
  font-weight: 620;
  text-decoration: none;
}
</style>
