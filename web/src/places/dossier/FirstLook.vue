<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'

/** A glance at the document on its slip; a press shows it whole. */
const props = defineProps<{ document: Schemas['Document']; content: string; size: number }>()
defineEmits<{ look: [] }>()
const PdfFirst = defineAsyncComponent(() => import('../../parts/looking/PdfFirst.vue'))
const { t } = useI18n()
const version = computed(() => props.document.versions.find((v) => v.counts)?.number ?? 1)
const first = computed(() => `/api/documents/${props.document.id}/pages/1?width=1100&version=${version.value}`)
const sheet = computed(() => prepared.value?.sheets?.find((s) => !s.hidden && s.rows.length))
const prepared = ref<Schemas['Preview']>()

watch(
  () => props.content,
  async () => {
    prepared.value = undefined
    if (!['text', 'markdown', 'table', 'archive'].includes(props.document.look) || props.size === 0) return
    prepared.value = await data(api.GET('/documents/{id}/preview', { params: { path: { id: props.document.id } } })).catch(() => undefined)
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="document.look === 'sound'" class="looked low"><audio :src="content" controls :aria-label="document.name"></audio></div>
  <div v-else-if="document.look === 'video'" class="looked"><video :src="content" controls :aria-label="document.name"></video></div>
  <button v-else-if="document.look !== 'none' && size > 0" type="button" class="looked" @click="$emit('look')">
    <span class="visually-hidden">{{ t('slip.open') }}:</span>
    <img v-if="document.look === 'pages'" :src="first" :alt="document.name" />
    <img v-else-if="document.look === 'picture'" :src="content" :alt="document.name" />
    <PdfFirst v-else-if="document.look === 'pdf'" :key="content" :url="content" />
    <span v-else-if="prepared?.look === 'archive'" class="glance text">
      {{
        prepared.files
          ?.slice(0, 12)
          .map((f) => f.name)
          .join('\n')
      }}
    </span>
    <span v-else-if="sheet" class="glance">
      <table>
        <tbody>
          <tr v-for="(row, i) in sheet.rows.slice(0, 12)" :key="i">
            <td v-for="(c, j) in row.slice(0, 6)" :key="j">{{ c }}</td>
          </tr>
        </tbody>
      </table>
    </span>
    <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server, and scripts are forbidden by policy -->
    <span v-else-if="prepared?.html !== undefined" class="glance text" inert v-html="prepared.html"></span>
    <span v-else-if="prepared" class="glance text">{{ prepared.text?.slice(0, 900) }}</span>
  </button>
</template>

<style scoped>
.looked {
  background: var(--tb-paper);
  color: var(--tb-paper-ink);
  align-content: start;
  place-items: start;
  cursor: zoom-in;
}
.low {
  height: 72px;
  place-items: center;
  align-content: center;
}
.glance {
  padding: var(--tb-s2) var(--tb-s3);
  text-align: left;
  font-size: var(--tb-tiny);
  line-height: 15px;
  overflow: hidden;
  width: 100%;
  height: 100%;
  display: block;
}
.glance td {
  padding: 0 10px 0 0;
  white-space: nowrap;
}
.glance :deep(h1),
.glance :deep(h2) {
  font-size: var(--tb-small);
  line-height: 18px;
}
.text {
  white-space: pre-line;
  font-family: 'Literata Variable', serif;
}
.looked :deep(.sheet) {
  border: 0;
}
</style>
