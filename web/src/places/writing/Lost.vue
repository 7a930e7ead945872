<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'

/** Something of one's own could not be joined with what the others wrote: it can be copied. */
const lost = defineModel<string>({ required: true })
const { t } = useI18n()
async function copy() {
  await copyText(lost.value)
  tell(t('writing.copied'))
}
</script>

<template>
  <p v-if="lost" class="lost" role="alert">
    {{ t('writing.lost') }}
    <button type="button" class="btn btn-text" @click="copy">{{ t('writing.copyLost') }}</button>
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
