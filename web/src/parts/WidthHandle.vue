<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { watch } from 'vue'

/** A line that is dragged, or moved by the arrow keys, to make what is left of it wider (WAI-ARIA, window splitter). */
const props = defineProps<{ label: string; name: string; least: number; most: number; usual: number }>()
const width = useLocalStorage(`width-${props.name}`, props.usual)
const set = (to: number) => (width.value = Math.round(Math.max(props.least, Math.min(props.most, to))))
watch(width, (w) => document.documentElement.style.setProperty(`--tb-${props.name}`, `${w}px`), { immediate: true })

function drag(e: PointerEvent) {
  const handle = e.currentTarget as HTMLElement
  const from = e.clientX - width.value
  handle.setPointerCapture(e.pointerId)
  const move = (m: PointerEvent) => set(m.clientX - from)
  handle.addEventListener('pointermove', move)
  handle.addEventListener('lostpointercapture', () => handle.removeEventListener('pointermove', move), { once: true })
}
const keys: Record<string, () => number> = {
  ArrowLeft: () => set(width.value - 16),
  ArrowRight: () => set(width.value + 16),
  Home: () => set(props.least),
  End: () => set(props.most),
}
</script>

<template>
  <div
    role="separator"
    aria-orientation="vertical"
    tabindex="0"
    class="handle"
    :aria-label="label"
    :aria-valuenow="width"
    :aria-valuemin="least"
    :aria-valuemax="most"
    @pointerdown.prevent="drag"
    @dblclick="set(usual)"
    @keydown="keys[$event.key] && ($event.preventDefault(), keys[$event.key]())"
  ></div>
</template>

<style scoped>
.handle {
  position: absolute;
  top: 0;
  bottom: 0;
  right: -5px;
  width: 9px;
  z-index: var(--tb-layer-drop);
  cursor: col-resize;
  touch-action: none;
}
.handle:hover,
.handle:focus-visible {
  background: var(--tb-selection);
}
</style>
