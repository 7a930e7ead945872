<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'
import Look from '../../parts/looking/Look.vue'
import type { LookWord } from '../../parts/looking/word'
import { useSaid } from '../../sentences/said'

/** A file within a document, looked at in place: kept as a document of its own by one act. */
const props = defineProps<{ document: Schemas['Document']; version: number; way: number[]; word: LookWord }>()
defineEmits<{ inner: [n: number]; back: [] }>()
const { t } = useI18n()
const said = useSaid()
const { act, wrong, busy } = useAct()
const at = computed(() => ({ path: { id: props.document.id, way: props.way.join('.') }, query: { version: props.version } }))
const { data: file, error } = useQuery({
  queryKey: computed(() => ['documents', 'draft', 'inner', props.document.id, props.version, props.way]),
  queryFn: () => data(api.GET('/documents/{id}/inner/{way}', { params: at.value })),
  retry: false,
})
const content = computed(() => `/api/documents/${props.document.id}/inner/${props.way.join('.')}/content?version=${props.version}`)
const prepare = () => Promise.resolve(file.value?.preview ?? { look: file.value?.look ?? 'none' })
async function keep() {
  let kept: Schemas['Place'] | undefined
  await act(
    async () => {
      kept = await data(api.POST('/documents/{id}/inner/{way}', { params: at.value, body: { folder: props.document.folderId } }))
    },
    { done: () => t('viewer.keptInner', { ref: kept?.ref, name: stemOf(kept?.name ?? '') }) },
  )
}
</script>

<template>
  <div class="inner">
    <div class="bar">
      <button type="button" class="go" @click="$emit('back')">{{ t('viewer.backTo', { name: stemOf(document.name) }) }}</button>
      <b v-if="file">{{ file.name }}</b>
      <span v-if="file" class="quiet small">{{ said.size(file.size) }}</span>
      <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
      <a v-if="file" class="btn btn-plain btn-small" :href="`${content}&download`" download>{{ t('common.download') }}</a>
      <button v-if="file && document.may.includes('add')" type="button" class="btn btn-plain btn-small" :disabled="busy" @click="keep">
        {{ t('viewer.keepInner') }}
      </button>
    </div>
    <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
    <Look
      v-else-if="file"
      :look="file.look"
      :content="content"
      :size="file.size"
      :name="file.name"
      :prepare="prepare"
      :word="word"
      opens
      @inner="$emit('inner', $event)"
    />
    <p v-else class="quiet">{{ word('loading') }}</p>
  </div>
</template>

<style scoped>
.inner {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
}
.bar {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s3);
  align-items: center;
  padding: var(--tb-s2) 20px;
  border-bottom: 1px solid var(--tb-line);
}
.bar b {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
