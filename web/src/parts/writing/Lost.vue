<script setup lang="ts">
import { useClipboard } from '@vueuse/core'
import { useVoice } from './voice'

/** Something of one's own could not be joined with what the others wrote: it can be copied. */
const lost = defineModel<string>({ required: true })
const { t } = useVoice()
const { copy, copied } = useClipboard({ legacy: true })
</script>

<template>
  <p v-if="lost" class="lost" role="alert">
    {{ t('writing.lost') }}
    <button type="button" class="btn btn-text" @click="copy(lost)">{{ t(copied ? 'writing.copied' : 'writing.copyLost') }}</button>
    <button type="button" class="btn btn-text" @click="lost = ''">{{ t('common.close') }}</button>
  </p>
</template>

<style scoped>
.lost {
  margin: 0;
  padding: 8px 24px;
  border-bottom: 1px solid var(--tb-rule);
}
</style>
