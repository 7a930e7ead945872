<script setup lang="ts">
import { computed } from 'vue'
import type { Hand } from './word'

/** What was written by hand, as it will stand on the paper. */
const props = defineProps<{ hand: Hand; label?: string }>()
const strokes = computed(() =>
  (props.hand.strokes ?? []).map((s) => ({
    d: s.map((p, i) => `${i ? 'L' : 'M'}${(p.x * 1000).toFixed(1)} ${(p.y * 1000).toFixed(1)}`).join(' '),
    w: 6 + (12 * s.reduce((sum, p) => sum + p.p, 0)) / Math.max(1, s.length),
  })),
)
const picture = computed(() => {
  const raw = props.hand.picture
  if (!raw) return undefined
  return `data:${raw.startsWith('/9j') ? 'image/jpeg' : 'image/png'};base64,${raw}`
})
</script>

<template>
  <svg
    v-if="strokes.length"
    class="ink"
    :viewBox="`0 0 1000 ${(hand.height ?? 0.4) * 1000}`"
    preserveAspectRatio="xMidYMid meet"
    role="img"
    :aria-label="label"
  >
    <path
      v-for="(s, i) in strokes"
      :key="i"
      :d="s.d"
      :stroke-width="s.w"
      fill="none"
      stroke="currentColor"
      stroke-linecap="round"
      stroke-linejoin="round"
    />
  </svg>
  <img v-else-if="picture" class="ink" :src="picture" :alt="label ?? ''" />
  <span v-else class="ink typed">{{ hand.typed }}</span>
</template>

<style scoped>
.ink {
  display: block;
  width: 100%;
  height: 100%;
  object-fit: contain;
  color: var(--tb-pen);
}
.typed {
  display: flex;
  align-items: center;
  overflow: hidden;
  white-space: nowrap;
  container-type: size;
  font-style: italic;
  font-family: 'Literata Variable', serif;
}
@supports (font-size: 1cqh) {
  .typed {
    font-size: min(60cqh, 28px);
  }
}
</style>
