<script setup lang="ts">
import { useAct } from '../../app/act'
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'

const props = defineProps<{ parent: string }>()
const emit = defineEmits<{ made: [name: string]; discard: [] }>()
const { t } = useI18n()
const name = ref('')
const { act, wrong } = useAct()
const field = ref<HTMLInputElement>()
onMounted(() => field.value?.focus())

const make = () =>
  act(async () => {
    await api.POST('/folders/{id}/folders', { params: { path: { id: props.parent } }, body: { name: name.value } })
    emit('made', name.value)
  })
</script>

<template>
  <form class="written acts" style="margin-top: 10px" @submit.prevent="make" @keydown.esc.stop="$emit('discard')">
    <input
      ref="field"
      v-model="name"
      class="form-control"
      style="max-width: 280px"
      :aria-label="t('dossier.folderName')"
      :placeholder="t('dossier.folderName')"
      :aria-invalid="!!wrong"
    />
    <button type="submit" class="btn btn-primary">{{ t('dossier.makeFolder') }}</button>
    <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
    <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
  </form>
</template>
