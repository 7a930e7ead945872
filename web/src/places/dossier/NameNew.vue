<script setup lang="ts">
import { useAct } from '../../app/act'
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'

/** Something new in a folder is named, and made. */
defineProps<{ label: string; verb: string; make: (name: string) => Promise<void> }>()
defineEmits<{ discard: [] }>()
const { t } = useI18n()
const name = ref('')
const { act, wrong } = useAct()
const field = ref<HTMLInputElement>()
onMounted(() => field.value?.focus())
</script>

<template>
  <form class="written acts" style="margin-top: 10px" @submit.prevent="act(() => make(name))" @keydown.esc.stop="$emit('discard')">
    <input
      ref="field"
      v-model="name"
      class="form-control"
      style="max-width: 280px"
      :aria-label="label"
      :placeholder="label"
      :aria-invalid="!!wrong"
    />
    <button type="submit" class="btn btn-primary">{{ verb }}</button>
    <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
    <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
  </form>
</template>
