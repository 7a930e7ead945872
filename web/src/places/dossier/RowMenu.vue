<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import { nextTick, onMounted, ref } from 'vue'

/** The acts of a row, where the pointer is: by right click, long press or the menu key. */
const props = defineProps<{ x: number; y: number; acts: { label: string; do: () => void }[] }>()
const emit = defineEmits<{ close: [] }>()
const list = ref<HTMLElement>()
const place = ref({ left: `${props.x}px`, top: `${props.y}px` })

onClickOutside(list, () => emit('close'))
onMounted(async () => {
  await nextTick()
  const box = list.value?.getBoundingClientRect()
  if (box)
    place.value = {
      left: `${Math.max(8, Math.min(props.x, innerWidth - box.width - 8))}px`,
      top: `${Math.max(8, Math.min(props.y, innerHeight - box.height - 8))}px`,
    }
  focus(0)
})

function focus(i: number) {
  const items = [...(list.value?.querySelectorAll('button') ?? [])]
  items[(i + items.length) % items.length]?.focus()
}
function key(e: KeyboardEvent, i: number) {
  if (e.key === 'ArrowDown') focus(i + 1)
  else if (e.key === 'ArrowUp') focus(i - 1)
  else if (e.key === 'Escape' || e.key === 'Tab') emit('close')
  else return
  e.preventDefault()
  e.stopPropagation()
}
function act(a: { do: () => void }) {
  emit('close')
  a.do()
}
</script>

<template>
  <ul ref="list" class="dropdown-menu show row-menu" role="menu" :style="place">
    <li v-for="(a, i) in acts" :key="a.label" role="none">
      <button type="button" role="menuitem" class="dropdown-item" @click.stop="act(a)" @keydown="key($event, i)">{{ a.label }}</button>
    </li>
  </ul>
</template>

<style scoped>
.row-menu {
  position: fixed;
  z-index: 1040;
}
</style>
