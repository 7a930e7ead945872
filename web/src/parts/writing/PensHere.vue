<script setup lang="ts">
import type { Pen } from './pens'
import { useVoice } from './voice'

/** Who is here: each with a letter and the pattern of a line, by which their caret is known again. */
const props = defineProps<{ pens: Pen[]; me: string; places: Record<string, string> }>()
/** Whom one goes along with: what they look at is looked at here. */
const following = defineModel<string>('following')
const { t } = useVoice()
const shown = 5
function where(p: Pen): string {
  const parts = p.mode === 'write' ? [] : [t(`writing.mode.${p.mode}`)]
  const place = props.places[p.person]
  if (place) parts.push(place)
  if (following.value === p.person) parts.push(t('writing.followed'))
  return parts.join('; ')
}
</script>

<template>
  <ul class="pens">
    <li v-for="p in pens.slice(0, shown)" :key="p.person">
      <component
        :is="p.person === me ? 'b' : 'button'"
        :type="p.person === me ? undefined : 'button'"
        class="name"
        :class="`pen-${p.line}`"
        :aria-pressed="p.person === me ? undefined : following === p.person"
        :title="p.person === me ? undefined : t(following === p.person ? 'writing.unfollow' : 'writing.follow', { name: p.name })"
        @click="p.person !== me && (following = following === p.person ? undefined : p.person)"
      >
        <span class="pen-letter" aria-hidden="true">{{ p.letter }}</span>
        {{ p.person === me ? t('writing.you', { name: p.name }) : p.name }}
        <slot v-if="p.guest" name="guest"></slot>
      </component>
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
.name {
  display: flex;
  gap: 7px;
  align-items: baseline;
  font-weight: 560;
  padding-bottom: 3px;
  white-space: nowrap;
}
.name[aria-pressed='true'] {
  background: var(--tb-selection);
}
</style>
