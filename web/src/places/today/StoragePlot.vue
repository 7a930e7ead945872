<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** What each dossier takes, as bars beside one another; the small ones together. */
const props = defineProps<{ dossiers: Schemas['DossierRow'][] }>()
const { t } = useI18n()
const said = useSaid()
const most = 6
const bars = computed(() => {
  const all = [...props.dossiers].filter((d) => d.bytes > 0).sort((a, b) => b.bytes - a.bytes)
  const rest = all.slice(most)
  const bytes = rest.reduce((sum, d) => sum + d.bytes, 0)
  const shown = all.slice(0, most).map((d) => ({ code: d.code, name: d.name, bytes: d.bytes }))
  return rest.length ? [...shown, { code: '', name: t('today.others', { n: rest.length }), bytes }] : shown
})
const largest = computed(() => Math.max(1, ...bars.value.map((b) => b.bytes)))
</script>

<template>
  <ul v-if="bars.length > 1" class="bars">
    <li v-for="b in bars" :key="b.code">
      <component :is="b.code ? RouterLink : 'span'" :to="b.code ? `/dossiers/${b.code}` : undefined" :title="b.name">
        <span class="no quiet">{{ b.code || '…' }}</span>
        <span class="bar" aria-hidden="true"><i :style="{ width: `${(100 * b.bytes) / largest}%` }"></i></span>
        <span class="small quiet">{{ said.size(b.bytes) }}</span>
      </component>
    </li>
  </ul>
</template>

<style scoped>
.bars {
  list-style: none;
  margin: var(--tb-s1) 0 0;
  padding: 0;
}
.bars li > * {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr) 72px;
  gap: var(--tb-s3);
  align-items: center;
  min-height: 24px;
  color: inherit;
  text-decoration: none;
}
.bars .small {
  text-align: right;
}
.bar i {
  display: block;
  height: 8px;
  min-width: 2px;
  background: var(--tb-quiet);
}
a:hover .bar i {
  background: var(--tb-action);
}
</style>
