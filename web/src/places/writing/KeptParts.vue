<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import type { Node } from 'prosemirror-model'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSaid } from '../../sentences/said'
import { keptIn } from '../../parts/writing/kept'

/** What is said before the first change of a document that a program made: what stays as it is, and is not changed here. */
const props = defineProps<{ doc: Node; reference: string; changes: number }>()
const { t } = useI18n()
const said = useSaid()
const known = useLocalStorage<string[]>('kept-parts-known', [])
const parts = computed(() => (props.changes < 0 ? [] : keptIn(props.doc).map(([kind, n]) => t(`writing.kept.count.${kind}`, { n }, n))))
</script>

<template>
  <p v-if="!known.includes(reference)" class="kept-parts small" role="note">
    <span>
      {{ t('writing.kept.look') }}
      <template v-if="parts.length">{{ ` ${t('writing.kept.parts', { list: said.list(parts) })}` }}</template>
      {{ ' ' }}
      <RouterLink :to="`/d/${reference}`">{{ t('writing.kept.instead') }}</RouterLink>
    </span>
    <button type="button" class="btn btn-text btn-small" @click="known = [...known.slice(-200), reference]">
      {{ t('writing.kept.known') }}
    </button>
  </p>
</template>

<style scoped>
.kept-parts {
  display: flex;
  align-items: baseline;
  justify-content: space-between;
  gap: var(--tb-s4);
  margin: 0;
  padding: 6px 24px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-rule);
}
.kept-parts a {
  text-decoration: underline;
}
@media (max-width: 900px) {
  .kept-parts {
    padding: 6px 16px;
  }
}
</style>
