<script setup lang="ts">
import { ref } from 'vue'
import MenuList, { type Entry } from './MenuList.vue'

/** A button that opens a menu below it, or above; what stands on the button comes in by the slot. */
defineProps<{ label: string; entries: Entry[]; button: string; end?: boolean; up?: boolean }>()
const open = ref(false)
</script>

<template>
  <div class="menu-holder">
    <button
      type="button"
      :class="button"
      aria-haspopup="menu"
      :aria-expanded="open"
      @pointerdown="open && $event.stopPropagation()"
      @click="open = !open"
      @keydown.down.prevent="open = true"
    >
      <slot />
    </button>
    <MenuList v-if="open" :label="label" :entries="entries" class="below" :class="{ end, up }" @close="open = false">
      <template v-if="$slots.head" #head><slot name="head" /></template>
    </MenuList>
  </div>
</template>

<style scoped>
.menu-holder {
  position: relative;
}
.below {
  top: calc(100% + 4px);
  left: 0;
}
.below.up {
  top: auto;
  bottom: calc(100% + 4px);
}
.below.end {
  left: auto;
  right: 0;
}
</style>
