<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useFollowing, type Stance } from '../../queries/following'

/** Whether I follow a document or dossier, have muted it, or neither: a word that is chosen. */
const props = defineProps<{ id: string; kind: 'document' | 'dossier' }>()
const { t } = useI18n()
const { data: things } = useFollowing()
const { act } = useAct()
const chosen = computed({
  get: () => things.value?.find((f) => f.id === props.id)?.stance ?? '',
  set: (stance: Stance) =>
    void act(() => api.PUT('/following/{id}', { params: { path: { id: props.id } }, body: { stance } }), {
      done: t(`following.done.${stance || 'neither'}`),
      aloud: true,
    }),
})
const options = computed(() => (['', 'follow', 'mute'] as const).map((s) => ({ value: s, words: t(`following.word.${s || 'neither'}`) })))
</script>

<template>
  <!-- Its place is kept from the start: what stands below does not move. -->
  <p class="small quiet stance">
    {{ t(`following.of.${kind}`) }}
    <SentenceSelect v-model="chosen" :label="t('following.label')" :options="options" :disabled="!things" then="." />
  </p>
</template>
