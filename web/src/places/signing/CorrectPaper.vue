<script setup lang="ts">
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { useOutline } from '../../queries/documents'
import { useSigning } from '../../queries/signing'
import PaperFrame from './PaperFrame.vue'
import PlacingDesk from './PlacingDesk.vue'
import { usePlacing } from './placing'

/** The places of a paper that was sent are put right, as long as nobody has signed; its parties are told. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const router = useRouter()
const { data, error } = useSigning(() => props.id)
const line = computed(() => data.value?.line)
const { data: outline } = useOutline(
  () => line.value?.itemId,
  () => line.value?.version,
)
const pages = computed(() => outline.value?.pages ?? [])
const placing = usePlacing(() => pages.value)
const kept = computed(() => JSON.stringify(data.value?.places ?? []))
// What somebody else changed meanwhile is not written over: the page begins with what stands.
watch(kept, () => data.value && placing.take(data.value.places, true), { immediate: true })
const changed = computed(() => JSON.stringify(placing.places.value) !== kept.value)
const may = computed(() => !!line.value?.manages && line.value.status === 'going' && line.value.parties.every((p) => !p.signedAt))
const says = computed(() => {
  if (!line.value) return ''
  if (!may.value) return t('signing.correctNot')
  const bare = line.value.parties.find((p, i) => p.signs && !placing.places.value.some((o) => o.party === i && o.kind === 'signature'))
  return bare ? t('signing.correctBare', { name: bare.name }) : ''
})
const { act, busy, wrong } = useAct()
async function correct() {
  const path = { id: props.id }
  const done = await act(() => api.PUT('/signings/{id}/places', { params: { path }, body: placing.places.value }), {
    done: t('signing.corrected'),
  })
  if (done) void router.push(`/signing/${props.id}`)
}
</script>

<template>
  <main v-if="error && !data" id="content"><Failed :error="error" /></main>
  <PaperFrame v-else :caution="!!says || !!wrong">
    <template #head>
      <RouterLink class="go small" :to="`/signing/${id}`">← {{ t('signing.title') }}</RouterLink>
      <h1 v-if="line">{{ t('signing.correctTitle', { name: line.name.replace(/\.\w+$/, '') }) }}</h1>
      <p class="small quiet">{{ t('signing.correctHint') }}</p>
    </template>
    <PlacingDesk
      :document="line?.itemId ?? ''"
      :version="line?.version ?? 1"
      :pages="line ? pages : []"
      :placing="placing"
      :parties="line?.parties.map((p) => p.name) ?? []"
      :loading="!outline"
    />
    <template #says>{{ wrong || says || (changed ? t('signing.correctReady') : t('signing.correctSame')) }}</template>
    <template #act>
      <button type="button" class="btn btn-primary" :disabled="!may || !changed || !!says || busy" data-correct @click="correct">
        {{ t('signing.correctDo') }}
      </button>
    </template>
  </PaperFrame>
</template>
