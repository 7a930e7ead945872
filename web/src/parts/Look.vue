<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import type { components } from '../api/schema.gen'

/** A document to look at, by its own bytes or by the text the server made of it. Words come in by the slot's owner. */
const props = defineProps<{
  look: components['schemas']['Look']
  content: string
  size: number
  name: string
  prepare: () => Promise<components['schemas']['Preview']>
  words: { loading: string; failed: string; none: string; cut: string; empty: string }
}>()

const emit = defineEmits<{ seen: [pages: number[]] }>()
const PdfPages = defineAsyncComponent(() => import('./PdfPages.vue'))
const state = ref<'loading' | 'ready' | 'failed'>('loading')
const prepared = ref<components['schemas']['Preview']>()
const asText = computed(() => ['text', 'markdown', 'table'].includes(props.look))

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

const isNumber = (cell: string) => /^-?[\d.,\u00a0 ]+%?$/.test(cell)
</script>

<template>
  <div class="pages" :data-state="state" tabindex="0" role="region" :aria-label="name">
    <p v-if="size === 0" class="quiet">{{ words.empty }}</p>
    <p v-else-if="look === 'none'" class="quiet">{{ words.none }}</p>
    <template v-else>
      <p v-if="state === 'loading'" class="quiet">{{ words.loading }}</p>
      <p v-if="state === 'failed'" role="alert">{{ words.failed }}</p>
      <PdfPages
        v-if="look === 'pdf' && state !== 'failed'"
        :key="content"
        :url="content"
        @ready="state = 'ready'"
        @seen="emit('seen', $event)"
        @failed="state = 'failed'"
      />
      <img v-else-if="look === 'picture' && state !== 'failed'" :src="content" :alt="name" @error="state = 'failed'" />
      <audio v-else-if="look === 'sound' && state !== 'failed'" :src="content" controls @error="state = 'failed'"></audio>
      <video v-else-if="look === 'video' && state !== 'failed'" :src="content" controls @error="state = 'failed'"></video>
      <template v-else-if="prepared">
        <!-- eslint-disable-next-line vue/no-v-html -- made safe by the server, and scripts are forbidden by policy -->
        <article v-if="prepared.html !== undefined" class="prose" v-html="prepared.html"></article>
        <div v-else-if="prepared.rows" class="cells" tabindex="0">
          <table>
            <thead>
              <tr>
                <th v-for="(c, i) in prepared.rows[0]" :key="i" scope="col">{{ c }}</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="(row, r) in prepared.rows.slice(1)" :key="r">
                <td v-for="(c, i) in row" :key="i" :class="{ num: isNumber(c) }">{{ c }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <pre v-else class="prose">{{ prepared.text }}</pre>
        <p v-if="prepared.cut" class="quiet">{{ words.cut }}</p>
      </template>
    </template>
  </div>
</template>
