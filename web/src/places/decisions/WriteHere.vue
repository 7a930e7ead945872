<script setup lang="ts">
import { onMounted, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'

/** A few words that go with an act, written where the act stands; needed or not. */
defineProps<{ label: string; act: string; needed?: boolean; busy?: boolean; wrong?: string }>()
const emit = defineEmits<{ do: [note: string]; close: [] }>()
const { t } = useI18n()
const note = ref('')
const field = useTemplateRef<HTMLTextAreaElement>('field')
onMounted(() => field.value?.focus())
</script>

<template>
  <form
    class="here"
    :aria-label="label"
    @submit.prevent="emit('do', note)"
    @keydown.esc.stop="emit('close')"
    @keydown.ctrl.enter="emit('do', note)"
  >
    <label>
      <span>{{ label }}</span>
      <textarea v-model="note" ref="field" class="form-control" rows="2" maxlength="2000" :required="needed"></textarea>
    </label>
    <slot />
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary btn-small" :disabled="busy || (needed && !note.trim())">{{ act }}</button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('close')">{{ t('common.discard') }}</button>
    </div>
  </form>
</template>

<style scoped>
.here {
  border: 1px solid var(--tb-action);
  border-radius: 3px;
  background: var(--tb-sheet);
  padding: var(--tb-s3);
  margin: var(--tb-s3) 0;
}
label {
  display: block;
}
label span {
  display: block;
  margin-bottom: var(--tb-s1);
}
textarea {
  font:
    0.9375rem/1.375rem 'Literata Variable',
    serif;
  margin-bottom: var(--tb-s2);
}
</style>
