<script setup lang="ts">
import Over from '../../parts/Over.vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import DrawnPages from '../../parts/DrawnPages.vue'
import Look from '../../parts/Look.vue'

/** A document over the whole page; Escape leads back to where one was. */
const props = defineProps<{ document: Schemas['Document'] }>()
defineEmits<{ close: [] }>()
const { t } = useI18n()
const said = useSaid()
const counting = props.document.versions.find((v) => v.counts)
const pages = `/api/documents/${props.document.id}/pages`
const outline = () =>
  data(api.GET('/documents/{id}/pages', { params: { path: { id: props.document.id }, query: { version: counting?.number } } }))
const content = `/api/documents/${props.document.id}/content?version=${counting?.number ?? 1}`
</script>

<template>
  <Over :label="document.name" @close="$emit('close')">
    <header>
      <span class="no quiet">{{ document.ref }}</span>
      <h2>{{ document.name }}</h2>
      <span class="small quiet only-wide">
        {{ t('slip.version', { n: counting?.number, when: counting ? said.when(counting.at) : '' }) }}
      </span>
      <a v-if="document.may.includes('download')" class="btn btn-plain" :href="`${content}&download`" download>
        {{ t('common.downloadSize', { size: said.size(counting?.size ?? 0) }) }}
      </a>
      <button type="button" class="btn btn-plain" autofocus @click="$emit('close')">{{ t('common.close') }}</button>
    </header>
    <DrawnPages
      v-if="document.look === 'pages'"
      :name="document.name"
      :outline="outline"
      :page="(n, width) => `${pages}/${n}?width=${width}&version=${counting?.number ?? 1}`"
      :words="{
        loading: t('viewer.loading'),
        unshowable: t('viewer.unshowable'),
        zoom: t('viewer.zoom'),
        again: t('viewer.pageAgain'),
        cut: t('viewer.cut'),
        page: (n, of) => t('viewer.page', { n, all: of }),
      }"
    />
    <Look
      v-else
      :look="document.look"
      :content="content"
      :size="counting?.size ?? 0"
      :name="document.name"
      :prepare="() => data(api.GET('/documents/{id}/preview', { params: { path: { id: document.id } } }))"
      :words="{
        loading: t('viewer.loading'),
        failed: t('viewer.failed'),
        none: t('viewer.none'),
        cut: t('viewer.cut'),
        empty: t('viewer.empty'),
      }"
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
header .btn {
  flex: none;
}
h2 {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
