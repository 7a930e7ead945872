<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import { tell } from '../../app/toasts'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDossiers } from '../../queries/dossiers'
import DossierSentence, { type DossierWords } from './DossierSentence.vue'

/** Making a dossier, perhaps like another one. */
const props = defineProps<{ like?: string }>()
defineEmits<{ discard: [] }>()
const { t } = useI18n()
const router = useRouter()
const { data: dossiers } = useDossiers()
const like = ref(props.like ?? '')
const documents = ref(false)
const words = ref<DossierWords>({ code: props.like ? codeAfter(props.like) : '', name: '', kind: 'client', client: '', subject: '' })
const patterns = computed(() => [
  { value: '', words: t('dossiers.likeNone') },
  ...(dossiers.value ?? []).map((d) => ({ value: d.code, words: t('dossiers.like', { what: `${d.code} ${d.name}` }) })),
])
const holds = computed(() => [
  { value: false, words: t('dossiers.foldersAlone') },
  { value: true, words: t('dossiers.withDocuments') },
])
/** The next code of its kind that nobody has, as far as one sees. */
function codeAfter(code: string): string {
  const [, kind, number] = /^(.*?)(\d+)$/.exec(code) ?? []
  if (!number) return ''
  const taken = new Set(dossiers.value?.map((d) => d.code))
  let n = Number(number) + 1
  const next = () => kind + String(n).padStart(number.length, '0')
  while (taken.has(next())) n++
  return next()
}

const { act, busy, wrong, field } = useAct()
const make = () =>
  act(async () => {
    const body = { ...words.value, ...(like.value ? { like: like.value, withDocuments: documents.value } : {}) }
    const made = await data(api.POST('/dossiers', { body }))
    tell(t('dossiers.made', { code: made.code }))
    await router.push(`/dossiers/${made.code}`)
  })
</script>

<template>
  <form class="written" @submit.prevent="make" @keydown.esc="$emit('discard')">
    <DossierSentence v-model="words" :sentence="t('dossiers.sentence')" :wrong="field" :named="!!props.like" />
    <p v-if="patterns.length > 1" class="terms">
      <SentenceSelect v-model="like" :label="t('dossiers.likeLabel')" :options="patterns" :then="like ? ',' : '.'" />
      <template v-if="like">
        {{ ' ' }}
        <SentenceSelect v-model="documents" :label="t('dossiers.holdsLabel')" :options="holds" then="." />
      </template>
    </p>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary" :disabled="busy">{{ t('dossiers.do') }}</button>
      <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
      <span class="small quiet">{{ t(like ? 'dossiers.likeConsequence' : 'dossiers.consequence') }}</span>
    </div>
  </form>
</template>

<style scoped>
.written {
  margin-top: var(--tb-s3);
}
.written > p {
  padding-bottom: var(--tb-s3);
}
</style>
