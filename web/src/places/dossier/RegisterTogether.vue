<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { GroupHead } from './lines'

/** The head of a register's group; a press leaves nothing but its documents. */
defineProps<{ head: GroupHead }>()
defineEmits<{ narrow: [first: number] }>()
const { t } = useI18n()
</script>

<template>
  <button type="button" class="together" :title="t('dossier.group.narrow')" @click="$emit('narrow', head.first)">
    <b>{{ head.words }}</b>
    <template v-if="head.n">, {{ head.n }}</template>
  </button>
</template>

<style scoped>
.together {
  border: 0;
  background: none;
  padding: 0;
  color: inherit;
  font-weight: 400;
}
.together:hover b {
  color: var(--tb-action);
}
</style>
