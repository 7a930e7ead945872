<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../api/client'
import Ticks from '../parts/Ticks.vue'
import { useSaid } from './said'

/** What has become of a document, and with whom it waits: the states in their order as ticks before the word. */
const props = defineProps<{ state?: Schemas['DocumentState']; alone?: boolean }>()
const { t } = useI18n()
const said = useSaid()
const order = ['draft', 'review', 'approved', 'parties', 'signed', 'issued'] as const
const is = computed(() => props.state?.state ?? 'draft')
const beside = computed(() => {
  const s = props.state
  if (!s) return ''
  if (s.held) return t('decisions.stateHeld')
  const who = said.list(s.with.map((name) => name.split(' ')[0]!))
  if (!who) return ''
  const due = s.due ? `, ${t('decisions.due', { when: said.day(s.due) })}` : ''
  return t(s.back ? 'decisions.stateBack' : 'decisions.stateWith', { who }) + due
})
</script>

<template>
  <span class="state" :title="state?.with.join(', ')">
    <Ticks :of="order.length" :at="order.indexOf(is) + 1" />
    {{ t(`decisions.state.${is}`) }}
    <span v-if="beside && !alone" class="s">{{ beside }}</span>
  </span>
</template>

<style scoped>
.state .s {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  height: 15px;
  line-height: 15px;
  font-size: var(--tb-small);
  color: var(--tb-quiet);
}
</style>
