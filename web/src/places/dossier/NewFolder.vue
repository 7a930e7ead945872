<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useSaid } from '../../sentences/said'

const props = defineProps<{ parent: string }>()
const emit = defineEmits<{ made: [name: string]; discard: [] }>()
const { t } = useI18n()
const said = useSaid()
const name = ref('')
const wrong = ref('')
const field = ref<HTMLInputElement>()
onMounted(() => field.value?.focus())

async function make() {
  try {
    await api.POST('/folders/{id}/folders', { params: { path: { id: props.parent } }, body: { name: name.value } })
    emit('made', name.value)
  } catch (e) {
    wrong.value = said.problem(e)
  }
}
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
