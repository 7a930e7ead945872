<script setup lang="ts">
import { useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Writing } from './writing'

/** For whom alone a link is: addresses and domains. */
const { writing } = defineProps<{ writing: Writing }>()
const terms = writing.terms
const { t } = useI18n()
const field = useTemplateRef('field')
defineExpose({ focus: () => field.value?.focus() })
</script>

<template>
  <div v-if="terms.allowed !== undefined" class="allowed">
    <label for="allowed" class="small quiet">{{ t('handout.allowed') }}</label>
    <input
      id="allowed"
      ref="field"
      v-model.lazy="terms.allowed"
      class="form-control"
      :placeholder="t('handout.allowedHint')"
      autocomplete="off"
      spellcheck="false"
    />
    <button type="button" class="go small" @click="writing.drop('allowed')">{{ t('handout.anybody') }}</button>
  </div>
</template>

<style scoped>
.allowed {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: var(--tb-s2);
  align-items: center;
  margin: var(--tb-s2) 0;
}
</style>
