<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../api/client'

/** Which versions are kept, as a sentence. */
const props = defineProps<{ rule: Schemas['KeepRule'] }>()
const { t } = useI18n()
const words = computed(() => {
  const { months, then, last } = props.rule
  if (!months) return t('keeping.all')
  const parts = [t('keeping.every', { n: months }, months), t(`keeping.then.${then}`)]
  if (last) parts.push(t('keeping.last', { n: last }, last))
  return `${parts.join(', ')}; ${t('keeping.always')}`
})
</script>

<template>
  <span>{{ words }}.</span>
</template>
