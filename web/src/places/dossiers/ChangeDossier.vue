<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import DossierSentence, { type DossierWords } from './DossierSentence.vue'

/** Changing what a dossier is called and about, as its managers may. */
const props = defineProps<{ dossier: Schemas['Dossier'] }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const { code, name, kind, client, subject } = props.dossier
const was = { name, kind, client, subject }
const words = ref<DossierWords>({ code, name, kind: kind === 'internal' ? 'internal' : 'client', client, subject })
const { act, busy, wrong, field } = useAct()

type Particulars = Schemas['DossierParticulars']
const say = (from: Particulars, to: Particulars) => api.PATCH('/dossiers/{code}', { params: { path: { code } }, body: { was: from, to } })
async function change() {
  const { name, kind, client, subject } = words.value
  const to = { name: name.trim(), kind, client: kind === 'client' ? client.trim() : '', subject: subject.trim() }
  const done = t('dossiers.changed', { code })
  if (await act(() => say(was, to), { done, undo: { do: () => say(to, was), done } })) emit('done')
}
</script>

<template>
  <form @submit.prevent="change" @keydown.esc.stop="$emit('done')">
    <DossierSentence v-model="words" made :sentence="t('dossiers.changeSentence')" :wrong="field" />
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary btn-small" :disabled="busy || !words.name.trim()">{{ t('dossiers.changeDo') }}</button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('done')">{{ t('common.discard') }}</button>
    </div>
  </form>
</template>

<style scoped>
form {
  padding-bottom: var(--tb-s3);
}
</style>
