<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import Look from '../../parts/Look.vue'

/** A document over the whole page; Escape leads back to where one was. */
const props = defineProps<{ document: Schemas['Document'] }>()
const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const said = useSaid()
const back = ref<HTMLButtonElement>()
const counting = props.document.versions.find((v) => v.counts)
const content = `/api/documents/${props.document.id}/content?version=${counting?.number ?? 1}`
const before = window.document.activeElement
onMounted(() => back.value?.focus())
function close() {
  emit('close')
  if (before instanceof HTMLElement) before.focus()
}
</script>

<template>
  <section class="over" role="dialog" aria-modal="true" :aria-label="document.name" @keydown.esc.stop="close">
    <header>
      <span class="no quiet">{{ document.ref }}</span>
      <h2>{{ document.name }}</h2>
      <span class="small quiet only-wide">
        {{ t('slip.version', { n: counting?.number, when: counting ? said.when(counting.at) : '' }) }}
      </span>
      <a class="btn btn-plain" :href="`${content}&download`" download>
        {{ t('common.downloadSize', { size: said.size(counting?.size ?? 0) }) }}
      </a>
      <button ref="back" type="button" class="btn btn-plain" @click="close">{{ t('common.close') }}</button>
    </header>
    <Look
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
  </section>
</template>

<style scoped>
.over {
  position: fixed;
  inset: 0;
  z-index: 1032;
  background: var(--tb-page);
  display: grid;
  grid-template: auto minmax(0, 1fr) / minmax(0, 1fr);
}
header {
  display: flex;
  align-items: center;
  gap: 12px;
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
