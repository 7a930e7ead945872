<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useFoundPlaces } from '../../queries/signing'
import type { Placing } from './placing'

/** Places that the paper marks itself, in its text or as fields of its own form: they are taken over by one act. */
const props = defineProps<{ document: string; placing: Placing; parties: number }>()
const { t } = useI18n()
const { data } = useFoundPlaces(() => props.document)
const taken = ref(false)
/** Those of parties who are not there yet wait for them. */
const found = computed(() => (data.value ?? []).filter((p) => p.party < Math.max(1, props.parties)))
function take() {
  props.placing.take(found.value)
  taken.value = true
}
</script>

<template>
  <p v-if="found.length && !taken && parties" class="found">
    {{ t('signing.found', found.length) }}
    <button type="button" class="btn btn-plain btn-small" data-found @click="take">{{ t('signing.foundTake') }}</button>
  </p>
</template>

<style scoped>
.found {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--tb-s2);
  border-bottom: 1px solid var(--tb-line);
  padding-bottom: var(--tb-s2);
}
</style>
