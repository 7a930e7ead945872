<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import { tell } from '../../app/toasts'
import DossierSentence, { type DossierWords } from './DossierSentence.vue'

/** Making a dossier. */
defineEmits<{ discard: [] }>()
const { t } = useI18n()
const router = useRouter()
const words = ref<DossierWords>({ code: '', name: '', kind: 'client', client: '', subject: '' })

const { act, busy, wrong, field } = useAct()
const make = () =>
  act(async () => {
    const made = await data(api.POST('/dossiers', { body: words.value }))
    tell(t('dossiers.made', { code: made.code }))
    await router.push(`/dossiers/${made.code}`)
  })
</script>

<template>
  <form class="written" @submit.prevent="make" @keydown.esc="$emit('discard')">
    <DossierSentence v-model="words" :sentence="t('dossiers.sentence')" :wrong="field" />
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary" :disabled="busy">{{ t('dossiers.do') }}</button>
      <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
      <span class="small quiet">{{ t('dossiers.consequence') }}</span>
    </div>
  </form>
</template>

<style scoped>
.written {
  margin-top: var(--tb-s3);
}
</style>
