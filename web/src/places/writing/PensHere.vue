<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import Door from '../../parts/Door.vue'
import type { Pen } from './pens'

/** Who is here: each with a letter and the pattern of a line, by which their caret is known again. */
const props = defineProps<{ pens: Pen[]; me: string; places: Record<string, string> }>()
const { t } = useI18n()
const shown = 5
function where(p: Pen): string {
  const parts = p.mode === 'write' ? [] : [t(`writing.mode.${p.mode}`)]
  const place = props.places[p.person]
  if (place) parts.push(place)
  return parts.join('; ')
}
</script>

<template>
  <ul class="pens">
    <li v-for="p in pens.slice(0, shown)" :key="p.person">
      <b :class="`pen-${p.line}`">
        <span class="pen-letter" aria-hidden="true">{{ p.letter }}</span>
        {{ p.person === me ? t('writing.you', { name: p.name }) : p.name }}
        <Door v-if="p.guest" state="ajar" :count="1" />
      </b>
      <span class="small quiet">{{ where(p) }}</span>
    </li>
    <li v-if="pens.length > shown" class="small quiet">{{ t('writing.more', { n: pens.length - shown }, pens.length - shown) }}</li>
  </ul>
</template>

<style scoped>
.pens {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 28px;
  font-size: var(--tb-text);
}
li {
  display: flex;
  flex-direction: column;
}
b {
  display: flex;
  gap: 7px;
  align-items: baseline;
  font-weight: 560;
  padding-bottom: 3px;
  white-space: nowrap;
}
</style>
