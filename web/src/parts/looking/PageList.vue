<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import { nextTick, ref, watch } from 'vue'
import type { LookWord } from './word'

/** The pages of a document as a list; each is drawn when it comes near. */
const props = defineProps<{
  word: LookWord
  /** Their height by their width. */
  ratios: number[]
  /** Draws one into its place. */
  draw: (n: number, to: HTMLElement) => void | Promise<void>
}>()
const page = defineModel<number>({ required: true })
const list = ref<HTMLElement>()

function watchEntry(el: unknown, n: number) {
  if (!(el instanceof HTMLElement) || el.dataset.watched) return
  el.dataset.watched = 'yes'
  const { stop } = useIntersectionObserver(ref(el), ([seen]) => {
    if (!seen?.isIntersecting) return
    stop()
    void props.draw(n, el.querySelector<HTMLElement>('.small-page')!)
  })
}
watch(page, () => void nextTick(() => list.value?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' })))
</script>

<template>
  <ol ref="list" class="page-list" :aria-label="word('pages')">
    <li v-for="(r, i) in ratios" :key="i" :ref="(el) => watchEntry(el, i + 1)">
      <button
        type="button"
        :aria-current="page === i + 1 ? 'page' : undefined"
        :aria-label="word('page', { n: i + 1, of: ratios.length })"
        @click="page = i + 1"
      >
        <span class="small-page" :style="{ aspectRatio: `1 / ${r}` }"></span>
        <span class="no">{{ i + 1 }}</span>
      </button>
    </li>
  </ol>
</template>

<style scoped>
.page-list {
  list-style: none;
  margin: 0;
  padding: var(--tb-s3);
  overflow-y: auto;
  width: 156px;
  flex: none;
  border-right: 1px solid var(--tb-line);
}
li {
  margin-bottom: var(--tb-s2);
}
button {
  display: block;
  width: 100%;
  padding: 6px;
  border-radius: 3px;
  text-align: center;
}
button[aria-current] {
  background: var(--tb-selection);
  box-shadow: inset 2px 0 0 var(--tb-action);
}
.small-page {
  display: block;
  background: var(--tb-paper);
  border: 1px solid var(--tb-line);
}
.small-page :deep(canvas),
.small-page :deep(img) {
  display: block;
  width: 100%;
  height: 100%;
}
.no {
  font-size: var(--tb-small);
}
@media (max-width: 720px) {
  .page-list {
    width: 104px;
  }
}
@media print {
  .page-list {
    display: none;
  }
}
</style>
