<script setup lang="ts">
import { onClickOutside, useEventListener } from '@vueuse/core'
import { onMounted, ref } from 'vue'
import { RouterLink } from 'vue-router'
import { useFocusReturn } from './focus'

/** The entries of a menu (WAI-ARIA, menu): arrow keys and first letters go through them, Escape and Tab put it away. */
export interface Entry {
  label: string
  do?: () => void
  to?: string
  href?: string
  lang?: string
  /** A line stands before it. */
  apart?: boolean
}
defineProps<{ label: string; entries: Entry[] }>()
const emit = defineEmits<{ close: [] }>()
const list = ref<HTMLElement>()
useFocusReturn()
onClickOutside(list, () => emit('close'))
// Also where the browser has put the cursor elsewhere meanwhile, as after a long press.
useEventListener('keydown', (e) => e.key === 'Escape' && emit('close'))
onMounted(() => items()[0]?.focus({ preventScroll: true }))

const items = () => [...(list.value?.querySelectorAll<HTMLElement>('[role=menuitem]') ?? [])]
function go(to: (at: number, all: HTMLElement[]) => number) {
  const all = items()
  all[(to(all.indexOf(document.activeElement as HTMLElement), all) + all.length) % all.length]?.focus()
}
function byLetter(letter: string) {
  go((at, all) => {
    const next = all.findIndex((e, i) => i > at && e.innerText.trim().toLowerCase().startsWith(letter))
    return next >= 0 ? next : all.findIndex((e) => e.innerText.trim().toLowerCase().startsWith(letter))
  })
}
const keys: Record<string, () => void> = {
  ArrowDown: () => go((at) => at + 1),
  ArrowUp: () => go((at) => at - 1),
  Home: () => go(() => 0),
  End: () => go(() => -1),
  Escape: () => emit('close'),
  Tab: () => emit('close'),
}
function key(e: KeyboardEvent) {
  if (keys[e.key]) keys[e.key]()
  else if (/^\p{L}$/u.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey) byLetter(e.key.toLowerCase())
  else return
  e.preventDefault()
  e.stopPropagation()
}
function act(entry: Entry) {
  emit('close')
  entry.do?.()
}
</script>

<template>
  <div ref="list" class="menu" role="menu" :aria-label="label" @keydown="key">
    <div v-if="$slots.head" class="head" role="presentation"><slot name="head" /></div>
    <component
      :is="e.to ? RouterLink : e.href ? 'a' : 'button'"
      v-for="e in entries"
      :key="e.label"
      role="menuitem"
      tabindex="-1"
      :class="{ apart: e.apart }"
      v-bind="e.to ? { to: e.to } : e.href ? { href: e.href, target: '_blank', rel: 'noreferrer' } : { type: 'button' }"
      :lang="e.lang"
      @click.stop="act(e)"
    >
      {{ e.label }}
    </component>
  </div>
</template>

<style scoped>
.menu {
  position: absolute;
  z-index: var(--tb-layer-menu);
  display: grid;
  min-width: 200px;
  padding: var(--tb-s1) 0;
  background: var(--tb-sheet);
  border: 1px solid var(--tb-rule);
  border-radius: 3px;
  box-shadow: 0 6px 20px var(--tb-shade);
  font-size: var(--tb-text);
}
.head {
  border-bottom: 1px solid var(--tb-line);
  margin-bottom: var(--tb-s1);
}
.menu > * {
  display: block;
  padding: 6px 12px;
  text-align: left;
  font: inherit;
  color: var(--tb-ink);
  text-decoration: none;
  white-space: nowrap;
}
.menu > :not(.head):hover,
.menu > *:focus-visible {
  background: var(--tb-selection);
  outline-offset: -2px;
}
.apart {
  border-top: 1px solid var(--tb-line);
  margin-top: var(--tb-s1);
  padding-top: 10px;
}
</style>
