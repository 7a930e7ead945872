<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { bringPaper } from '../../parts/signing/bring'
import SigningSheet from '../../parts/signing/SigningSheet.vue'
import type { SignWord } from '../../parts/signing/word'
import { signingKeys } from '../../queries/signing'
import { useSaid } from '../../sentences/said'

/** A colleague signs; or somebody outside who is with them in person, on their device. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const said = useSaid()
const queries = useQueryClient()
const party = computed(() => (route.query.party === undefined ? undefined : Number(route.query.party)))
const params = computed(() => ({ path: { id: props.id }, query: { party: party.value } }))
const sheet = ref<Schemas['SigningSheet']>()
const error = ref<unknown>()
const word: SignWord = (key, fill) => t(`signsheet.${key}`, fill ?? {})
async function load() {
  try {
    sheet.value = await data(api.GET('/signings/{id}/sheet', { params: params.value }))
  } catch (e) {
    error.value = e
  }
}
watch(params, load, { immediate: true })
const { act, busy, wrong } = useAct()
const leave = () => router.push(`/signing/${props.id}`)
async function done(fn: () => Promise<unknown>, words: string) {
  if (!(await act(fn, { done: words }))) return
  await queries.invalidateQueries({ queryKey: signingKeys.all })
  void leave()
}
const sign = (kept: Schemas['SigningKept']) =>
  done(() => api.POST('/signings/{id}/sheet', { params: params.value, body: { ...kept, agrees: true } }), t('signing.youSigned'))
const decline = (reason: string) =>
  done(() => api.POST('/signings/{id}/sheet/declining', { params: params.value, body: { reason } }), t('signing.youDeclined'))
const text = async () => await data(api.GET('/signings/{id}/sheet/words', { params: params.value }))
const keep = async (kept: Schemas['SigningKept']) => {
  await api.PUT('/signings/{id}/sheet', { params: params.value, body: kept })
}
const bring = (place: number, file: File) =>
  bringPaper(`/api/signings/${props.id}/sheet`, place, file, said.problem, party.value === undefined ? {} : { party: String(party.value) })
const me = computed(() => sheet.value?.parties[sheet.value.party])
</script>

<template>
  <main id="content">
    <Failed v-if="error" :error="error" />
    <p v-else-if="!sheet" class="quiet pad">{{ t('common.loading') }}</p>
    <div v-else-if="!me?.waits" class="pad">
      <h1>{{ sheet.name }}</h1>
      <p class="terms">{{ me?.signedAt ? word('done') : word('waitTitle') }}</p>
      <RouterLink class="btn btn-plain" :to="`/signing/${id}`">{{ t('signing.toRequest') }}</RouterLink>
    </div>
    <SigningSheet
      v-else
      :sheet="{ ...sheet, mayHand: false }"
      :picture="(n, width) => `/api/documents/${sheet!.itemId}/pages/${n}?width=${width}&version=${sheet!.version}`"
      :word="word"
      :when="said.when"
      :text="text"
      :keep="keep"
      :bring="bring"
      :busy="busy"
      :wrong="wrong"
      :presence="party !== undefined"
      @sign="sign"
      @decline="decline"
      @later="leave"
    />
  </main>
</template>

<style scoped>
.pad {
  padding: 24px;
}
main :deep(.way) {
  height: calc(100dvh - 52px);
  top: 52px;
  padding-top: 24px;
}
@media (max-width: 800px) {
  main :deep(.way) {
    height: auto;
  }
}
</style>
