<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import IconNext from '~icons/ph/caret-right'
import IconPrevious from '~icons/ph/caret-left'
import { api, data, type Schemas } from '../../api/client'
import DrawnPages from '../../parts/looking/DrawnPages.vue'
import Look from '../../parts/looking/Look.vue'
import type { LookWord } from '../../parts/looking/word'
import { isCommand, isTyping } from '../../parts/keys'
import Over from '../../parts/Over.vue'
import { useSaid } from '../../sentences/said'
import { useVersions } from '../versions/acts'

/** A document over the whole page, and from it to the one before or after it; Escape leads back to where one was. */
const props = defineProps<{ document: Schemas['Document']; version?: number; before?: string; after?: string }>()
const emit = defineEmits<{ close: []; open: [id: string] }>()
const { t } = useI18n()
const said = useSaid()
const word: LookWord = (key, fill) => t(`viewer.${key}`, fill ?? {})
const counting = computed(() => props.document.versions.find((v) => v.counts))
/** The version that is shown. */
const shown = computed(() => props.document.versions.find((v) => v.number === props.version) ?? counting.value)
const older = computed(() => shown.value && !shown.value.counts)
const look = computed(() => (shown.value?.mediaType === counting.value?.mediaType ? props.document.look : 'pages'))
const { bringBack } = useVersions(() => props.document.id)
async function back() {
  if (shown.value && (await bringBack(shown.value.number))) emit('close')
}
const path = computed(() => ({ id: props.document.id }))
const mayKeep = computed(() => props.document.may.includes('download'))
const outline = () => data(api.GET('/documents/{id}/pages', { params: { path: path.value, query: { version: shown.value?.number } } }))
const content = computed(() => `/api/documents/${props.document.id}/content?version=${shown.value?.number ?? 1}`)
const drawn = (n: number, width: number) =>
  `/api/documents/${props.document.id}/pages/${n}?width=${width}&version=${shown.value?.number ?? 1}`

useEventListener('keydown', (e) => {
  const to = { n: props.after, p: props.before }[e.key]
  if (to && !isTyping(e) && !isCommand(e)) emit('open', to)
})
</script>

<template>
  <Over :label="document.name" @close="$emit('close')">
    <header role="presentation">
      <span class="no quiet">{{ document.ref }}</span>
      <h2>{{ document.name }}</h2>
      <span class="small quiet only-wide">
        {{ t(older ? 'versions.shown' : 'slip.version', { n: shown?.number, when: shown ? said.when(shown.at) : '' }) }}
      </span>
      <span class="steps">
        <button
          type="button"
          :disabled="!before"
          :aria-label="word('previous')"
          :title="word('previous')"
          @click="before && $emit('open', before)"
        >
          <IconPrevious aria-hidden="true" />
        </button>
        <button type="button" :disabled="!after" :aria-label="word('next')" :title="word('next')" @click="after && $emit('open', after)">
          <IconNext aria-hidden="true" />
        </button>
      </span>
      <button v-if="older && document.may.includes('change')" type="button" class="btn btn-primary" @click="back">
        {{ t('versions.bringBackThis', { n: shown?.number }) }}
      </button>
      <a v-if="mayKeep" class="btn btn-plain only-wide" :href="`${content}&download`" download>
        {{ t('common.downloadSize', { size: said.size(shown?.size ?? 0) }) }}
      </a>
      <button type="button" class="btn btn-plain" autofocus @click="$emit('close')">{{ t('common.close') }}</button>
    </header>
    <DrawnPages
      v-if="look === 'pages'"
      :key="`${document.id} ${shown?.number}`"
      :name="document.name"
      :outline="outline"
      :picture="drawn"
      :word="word"
      :printable="mayKeep"
    />
    <Look
      v-else
      :key="`${document.id} ${shown?.number}`"
      :look="look"
      :content="content"
      :size="shown?.size ?? 0"
      :name="document.name"
      :prepare="() => data(api.GET('/documents/{id}/preview', { params: { path, query: { version: shown?.number } } }))"
      :word="word"
    />
  </Over>
</template>

<style scoped>
.over {
  position: fixed;
  inset: 0;
  z-index: var(--tb-layer-over);
  background: var(--tb-page);
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
header {
  display: flex;
  align-items: center;
  gap: var(--tb-s3);
  padding: 10px 20px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-line);
}
header .btn,
.steps {
  flex: none;
}
.steps button {
  min-width: 30px;
  min-height: 30px;
}
.steps button:disabled {
  color: var(--tb-rule);
}
h2 {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
