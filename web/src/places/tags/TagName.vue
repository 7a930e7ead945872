<script setup lang="ts">
/** A tag: the practice's in a full outline, one's own in a dotted one and said to be so. */
defineProps<{ name: string; own: boolean; mine: string }>()
</script>

<template>
  <span class="tag" :class="{ own }" :title="own ? mine : undefined">
    {{ name }}
    <span v-if="own" class="visually-hidden">({{ mine }})</span>
  </span>
</template>

<style scoped>
.tag {
  border: 1px solid var(--tb-edge);
  border-radius: 3px;
  padding: 0 6px;
  display: inline-block;
  overflow-wrap: anywhere;
}
.own {
  border-style: dotted;
  font-style: italic;
}
</style>
