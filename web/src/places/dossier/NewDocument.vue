<script setup lang="ts">
import { useAct } from '../../app/act'
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data } from '../../api/client'

/** A new document is named, and opened to be written. */
const props = defineProps<{ folder: string }>()
defineEmits<{ discard: [] }>()
const router = useRouter()
const { t } = useI18n()
const name = ref('')
const { act, wrong } = useAct()
const field = ref<HTMLInputElement>()
onMounted(() => field.value?.focus())

const make = () =>
  act(async () => {
    const made = await data(api.POST('/folders/{id}/written', { params: { path: { id: props.folder } }, body: { name: name.value } }))
    await router.push(`/write/${made.id}`)
  })
</script>

<template>
  <form class="written acts" style="margin-top: 10px" @submit.prevent="make" @keydown.esc.stop="$emit('discard')">
    <input
      ref="field"
      v-model="name"
      class="form-control"
      style="max-width: 320px"
      :aria-label="t('writing.name')"
      :placeholder="t('writing.name')"
      :aria-invalid="!!wrong"
    />
    <button type="submit" class="btn btn-primary">{{ t('writing.make') }}</button>
    <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
    <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
  </form>
</template>
