<script setup lang="ts">
import { onBeforeUnmount, onMounted, ref } from 'vue'
import type { components } from '../api/schema.gen'

/**
 * A document as pictures of its pages, which may bear who looks at them. Pages are fetched before they come into the
 * window. Words come in by the owner.
 */
const props = defineProps<{
  name: string
  outline: () => Promise<components['schemas']['Outline']>
  /** Where a page's picture is, by its number and width. */
  page: (n: number, width: number) => string
  words: { loading: string; unshowable: string; zoom: string; again: string; cut: string; page: (n: number, of: number) => string }
}>()
const emit = defineEmits<{ seen: [pages: number[]]; refused: [error: unknown] }>()
const all = ref<components['schemas']['Outline']>()
const state = ref<'loading' | 'ready' | 'failed'>('loading')
const near = ref(new Set<number>())
const broken = ref(new Set<number>())
const region = ref<HTMLElement>()
/** How many times as wide as fits. */
const zoom = ref(1)
const zooms = [1, 1.5, 2.25]
const widths = [1100, 1700, 2600]
const inView = new Set<number>()
let coming: IntersectionObserver | undefined
let viewing: IntersectionObserver | undefined

/** The least of the widths the server draws that is sharp here. */
function width() {
  const css = Math.min(860, region.value?.clientWidth ?? 860) * zoom.value * Math.min(2, devicePixelRatio)
  return widths.find((w) => w >= css) ?? 2600
}
const address = (n: number) => props.page(n, width())

async function load() {
  state.value = 'loading'
  try {
    all.value = await props.outline()
    state.value = 'ready'
  } catch (e) {
    state.value = 'failed'
    emit('refused', e)
  }
}
const pageOf = (e: IntersectionObserverEntry) => Number((e.target as HTMLElement).dataset.page)
onMounted(() => {
  // Two windows ahead: the next page is there before it is looked at.
  coming = new IntersectionObserver((seen) => seen.forEach((e) => e.isIntersecting && near.value.add(pageOf(e))), {
    root: region.value,
    rootMargin: '200% 0px',
  })
  viewing = new IntersectionObserver(
    (seen) => {
      for (const e of seen) inView[e.isIntersecting ? 'add' : 'delete'](pageOf(e))
      emit('seen', [...inView])
    },
    { root: region.value, threshold: 0.2 },
  )
  void load()
})
onBeforeUnmount(() => {
  coming?.disconnect()
  viewing?.disconnect()
})
function watchPage(el: unknown) {
  if (!(el instanceof HTMLElement) || el.dataset.watched) return
  el.dataset.watched = 'yes'
  coming?.observe(el)
  viewing?.observe(el)
}
</script>

<template>
  <div ref="region" class="pages drawn" :data-state="state" tabindex="0" role="region" :aria-label="name">
    <p v-if="state === 'loading'" class="quiet">{{ words.loading }}</p>
    <p v-else-if="state === 'failed'" role="alert">{{ words.unshowable }}</p>
    <template v-else-if="all">
      <div class="zoom" role="group" :aria-label="words.zoom">
        <button v-for="z in zooms" :key="z" type="button" :aria-pressed="zoom === z" @click="zoom = z">{{ z * 100 }} %</button>
      </div>
      <div
        v-for="(p, i) in all.pages"
        :key="i"
        :ref="watchPage"
        class="sheet"
        :data-page="i + 1"
        :data-drawn="near.has(i + 1)"
        :style="{
          width: `min(${Math.min(860, all.pages.length === 1 ? p.width * 1.4 : 860) * zoom}px, ${zoom * 100}%)`,
          maxWidth: 'none',
          aspectRatio: `${p.width} / ${p.height}`,
        }"
      >
        <img
          v-if="near.has(i + 1) && !broken.has(i + 1)"
          :src="address(i + 1)"
          :alt="words.page(i + 1, all.pages.length)"
          draggable="false"
          @error="broken.add(i + 1)"
        />
        <button v-else-if="broken.has(i + 1)" type="button" class="again" @click="broken.delete(i + 1)">{{ words.again }}</button>
      </div>
      <p v-if="all.cut" class="quiet">{{ words.cut }}</p>
    </template>
  </div>
</template>

<style scoped>
.drawn {
  user-select: none;
  align-items: safe center;
}
.sheet {
  flex: none;
}
.sheet img {
  display: block;
  width: 100%;
  height: 100%;
}
.again {
  position: absolute;
  inset: 0;
  width: 100%;
}
.zoom {
  position: sticky;
  top: 0;
  left: 0;
  z-index: var(--tb-layer-head);
  display: flex;
  gap: 2px;
  background: var(--tb-page);
  border: 1px solid var(--tb-line);
  border-radius: 3px;
  font-size: var(--tb-small);
}
.zoom button {
  padding: 3px 10px;
}
.zoom [aria-pressed='true'] {
  font-weight: 600;
}
@media print {
  .zoom {
    display: none;
  }
  .sheet {
    break-after: page;
  }
}
</style>
