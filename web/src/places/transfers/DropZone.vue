<script setup lang="ts">
import { ref } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import IconAdd from '~icons/ph/file-plus'
import { chosen, dropped } from '../../uploads/dropped'

/** Where files are dropped, or chosen by a press. Folders give their files. */
defineProps<{ path: 'transfers.drop' | 'transfers.dropNew'; big?: boolean }>()
const emit = defineEmits<{ files: [files: File[]] }>()
const input = ref<HTMLInputElement>()
const over = ref(false)
const { t } = useI18n()

async function drop(e: DragEvent) {
  over.value = false
  if (e.dataTransfer)
    emit(
      'files',
      (await dropped(e.dataTransfer)).map((b) => b.file),
    )
}
function pick() {
  emit(
    'files',
    chosen(input.value!.files!).map((b) => b.file),
  )
  input.value!.value = ''
}
</script>

<template>
  <div
    class="drop"
    :class="{ over, big }"
    @dragenter.prevent="over = true"
    @dragover.prevent
    @dragleave.self="over = false"
    @drop.prevent="drop"
  >
    <IconAdd class="i" aria-hidden="true" />
    <I18nT :keypath="path" tag="span" scope="global">
      <template #choose>
        <button type="button" class="go" @click="input?.click()">{{ t('transfers.choose') }}</button>
      </template>
    </I18nT>
    <input ref="input" type="file" multiple hidden data-field="files" @change="pick" />
  </div>
</template>

<style scoped>
.drop {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  min-height: 36px;
  padding: 0 var(--tb-s3);
  border: 1px dashed var(--tb-edge);
  color: var(--tb-quiet);
}
.big {
  min-height: 132px;
  justify-content: center;
}
.over {
  background: var(--tb-selection);
  border-style: solid;
}
</style>
