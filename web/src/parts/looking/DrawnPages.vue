<script setup lang="ts">
import { computed, nextTick, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import type { components } from '../../api/schema.gen'
import PageList from './PageList.vue'
import { usePrinting } from './print'
import ReaderBar from './ReaderBar.vue'
import type { LookWord } from './word'

/**
 * A document as pictures of its pages, which may bear who looks at them. Pages are fetched before they come into the
 * window. Words come in by the owner.
 */
const props = defineProps<{
  name: string
  outline: () => Promise<components['schemas']['Outline']>
  /** Where a page's picture is, by its number and width. */
  picture: (n: number, width: number) => string
  word: LookWord
  /** Whoever may keep it may print it. */
  printable?: boolean
  /** The page at which one begins to read. */
  start?: number
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
const size = computed({ get: () => String(zoom.value), set: (s) => (zoom.value = Number(s)) })
const sizes = computed(() => zooms.map((z) => ({ value: String(z), words: z === 1 ? props.word('width') : `${z * 100} %` })))
const page = ref(1)
const listed = ref(false)
const ratios = computed(() => all.value?.pages.map((p) => p.height / p.width) ?? [])
const widths = [1100, 1700, 2600]
const inView = new Set<number>()
let shownByScrolling = 1
let coming: IntersectionObserver | undefined
let viewing: IntersectionObserver | undefined

/** The least of the widths the server draws that is sharp here. */
function width() {
  const css = Math.min(860, region.value?.clientWidth ?? 860) * zoom.value * Math.min(2, devicePixelRatio)
  return widths.find((w) => w >= css) ?? 2600
}
const address = (n: number) => props.picture(n, width())

async function load() {
  state.value = 'loading'
  try {
    all.value = await props.outline()
    state.value = 'ready'
    if (props.start) {
      await nextTick()
      page.value = props.start
    }
  } catch (e) {
    state.value = 'failed'
    emit('refused', e)
  }
}
watch(page, (n) => {
  if (n !== shownByScrolling) region.value?.querySelector(`[data-page="${n}"]`)?.scrollIntoView({ block: 'start' })
})
function drawSmall(n: number, to: HTMLElement) {
  const picture = new Image()
  picture.alt = ''
  picture.src = props.picture(n, 240)
  to.replaceChildren(picture)
}
const { busy, print } = usePrinting(
  props.word,
  () => ratios.value.length,
  (n) => Promise.resolve(props.picture(n, 1700)),
  () => (state.value = 'failed'),
)
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
      if (inView.size && !inView.has(page.value)) shownByScrolling = page.value = Math.min(...inView)
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
  <div class="drawn-reader">
    <ReaderBar
      v-if="all"
      v-model:page="page"
      v-model:size="size"
      v-model:listed="listed"
      :word="word"
      :pages="all.pages.length"
      :sizes="sizes"
      :printable="printable"
      :busy="busy"
      @print="print"
    />
    <div class="below">
      <PageList v-if="listed" v-model="page" :word="word" :ratios="ratios" :draw="drawSmall" />
      <div ref="region" class="pages drawn" :data-state="state" tabindex="0" role="region" :aria-label="name">
        <p v-if="state === 'loading'" class="quiet">{{ word('loading') }}</p>
        <p v-else-if="state === 'failed'" role="alert">{{ word('unshowable') }}</p>
        <template v-else-if="all">
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
              :alt="word('page', { n: i + 1, of: all.pages.length })"
              draggable="false"
              @error="broken.add(i + 1)"
            />
            <button v-else-if="broken.has(i + 1)" type="button" class="again" @click="broken.delete(i + 1)">{{ word('pageAgain') }}</button>
          </div>
          <p v-if="all.cut" class="quiet">{{ word('cut') }}</p>
        </template>
      </div>
    </div>
  </div>
</template>

<style scoped>
.drawn-reader {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.below {
  display: flex;
  min-height: 0;
  grid-row: 2;
}
.drawn {
  flex: 1;
  min-width: 0;
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
</style>
