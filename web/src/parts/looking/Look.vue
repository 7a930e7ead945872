<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import type { components } from '../../api/schema.gen'
import Files from './Files.vue'
import { useMarkedWords } from './marked'
import type { CellPlace, LookWord, MarkedCell, Sought } from './word'

/** A document to look at, by its own bytes or by the text the server made of it. */
const props = defineProps<{
  look: components['schemas']['Look']
  content: string
  size: number
  name: string
  prepare: () => Promise<components['schemas']['Preview']>
  word: LookWord
  /** Cells of a table that bear a number. */
  marks?: MarkedCell[]
  /** Words that were looked for, and the page on which one begins to read. */
  sought?: Sought
  /** Files within it can be opened. */
  opens?: boolean
}>()

const emit = defineEmits<{ seen: [pages: number[]]; cell: [at: CellPlace]; inner: [n: number] }>()
const PdfReader = defineAsyncComponent(() => import('./PdfReader.vue'))
const PictureView = defineAsyncComponent(() => import('./PictureView.vue'))
const Sheets = defineAsyncComponent(() => import('./Sheets.vue'))
const state = ref<'loading' | 'ready' | 'failed'>('loading')
const prepared = ref<components['schemas']['Preview']>()
const asText = computed(() => ['text', 'markdown', 'table', 'archive'].includes(props.look))
/** What has a bar of its own fills the place. */
const fills = computed(() => props.size > 0 && state.value !== 'failed' && ['pdf', 'picture', 'table'].includes(props.look))

const text = ref<HTMLElement>()
useMarkedWords(text, () => (state.value === 'ready' ? (props.sought?.words ?? []) : []))

watch(
  () => props.content,
  async () => {
    state.value = 'loading'
    prepared.value = undefined
    if (!asText.value || props.size === 0) {
      if (props.look !== 'pdf') state.value = 'ready'
      return
    }
    const asked = props.content
    try {
      const answer = await props.prepare()
      if (asked !== props.content) return
      prepared.value = answer
      state.value = 'ready'
    } catch {
      state.value = 'failed'
    }
  },
  { immediate: true },
)
</script>

<template>
  <div v-if="fills" class="filled" :data-state="state">
    <PdfReader
      v-if="look === 'pdf'"
      :key="content"
      :url="content"
      :name="name"
      :word="word"
      :sought="sought"
      @ready="state = 'ready'"
      @seen="emit('seen', $event)"
      @failed="state = 'failed'"
    />
    <PictureView v-else-if="look === 'picture'" :key="content" :src="content" :name="name" :word="word" @failed="state = 'failed'" />
    <Sheets
      v-else-if="prepared?.sheets"
      :sheets="prepared.sheets"
      :name="name"
      :word="word"
      :marks="marks"
      :start="sought?.words[0]"
      @cell="emit('cell', $event)"
    />
    <p v-if="state === 'loading'" class="quiet wait">{{ word('loading') }}</p>
    <p v-if="prepared?.cut" class="quiet small cut">{{ word('cut') }}</p>
  </div>
  <div v-else ref="text" class="pages" :data-state="state" tabindex="0" role="region" :aria-label="name">
    <p v-if="size === 0" class="quiet">{{ word('empty') }}</p>
    <p v-else-if="look === 'none'" class="quiet">{{ word('none') }}</p>
    <p v-else-if="state === 'failed'" role="alert">{{ word('failed') }}</p>
    <p v-else-if="state === 'loading'" class="quiet">{{ word('loading') }}</p>
    <audio v-else-if="look === 'sound'" :src="content" controls :aria-label="name" @error="state = 'failed'"></audio>
    <video v-else-if="look === 'video'" :src="content" controls :aria-label="name" @error="state = 'failed'"></video>
    <template v-else-if="prepared">
      <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server, and scripts are forbidden by policy -->
      <article v-if="prepared.html !== undefined" class="prose" v-html="prepared.html"></article>
      <pre v-else-if="prepared.text" class="prose">{{ prepared.text }}</pre>
      <Files v-if="prepared.files?.length" :files="prepared.files" :opens="opens" :word="word" @open="emit('inner', $event)" />
      <p v-else-if="look === 'archive'" class="quiet">{{ word('noFiles') }}</p>
      <p v-if="prepared.cut" class="quiet">{{ word('cut') }}</p>
    </template>
  </div>
</template>

<style scoped>
.filled {
  position: relative;
  height: 100%;
  min-height: 0;
  display: grid;
  grid-template-rows: minmax(0, 1fr) auto;
}
.wait {
  position: absolute;
  inset: 40% 0 auto;
  text-align: center;
}
.cut {
  margin: 0;
  padding: 4px 20px;
  border-top: 1px solid var(--tb-line);
}
</style>
