<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDossier } from '../../queries/dossiers'
import { useBodies } from '../sharing/bodies'
import FolderGoals from '../sharing/FolderGoals.vue'

/** Into which folder it goes: choosing one puts it there. The dossier is the one into which something was put last. */
defineProps<{ name: string; busy: boolean }>()
const emit = defineEmits<{ put: [folder: string, place: string]; close: [] }>()
const { t } = useI18n()
const options = useBodies()
const last = useLocalStorage('accepted-into', '')
const code = computed({
  get: () => (options.value.some((o) => o.value === last.value) ? last.value : (options.value[0]?.value ?? '')),
  set: (c) => (last.value = c),
})
const { data: body } = useDossier(code, undefined, undefined, () => !!code.value)
const folders = computed(() => (body.value?.code === code.value ? body.value.folders : []).filter((f) => f.may.includes('add')))
function put(id: string) {
  const to = folders.value.find((f) => f.id === id)
  emit(
    'put',
    id,
    [options.value.find((o) => o.value === code.value)?.words, to?.number && `${to.number} ${to.name}`].filter(Boolean).join(', '),
  )
}
</script>

<template>
  <div class="where" @keydown.esc="$emit('close')">
    <p class="terms">
      {{ t('deliveries.into', { name }) }}
      <SentenceSelect v-model="code" :label="t('move.dossier')" :options="options" :then="folders.length ? ':' : '.'" />
    </p>
    <FolderGoals v-if="!busy" :key="code" :folders="folders" @pick="put" />
    <p v-if="body?.code === code && !folders.length" class="t-caution">{{ t('move.nowhere') }}</p>
    <button type="button" class="btn btn-text btn-small" @click="$emit('close')">{{ t('common.discard') }}</button>
  </div>
</template>

<style scoped>
.where {
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: var(--tb-s3);
}
</style>
