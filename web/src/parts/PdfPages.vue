<script setup lang="ts">
import { useIntersectionObserver } from '@vueuse/core'
import type { PDFDocumentProxy } from 'pdfjs-dist'
import { onBeforeUnmount, onMounted, ref, shallowRef } from 'vue'
import { drawPage, openPDF } from './pdf'

/** A PDF, page below page; each is drawn when it comes near the window. */
const props = defineProps<{ url: string; onlyFirst?: boolean }>()
const emit = defineEmits<{ ready: [pages: number]; failed: []; seen: [pages: number[]] }>()

const document_ = shallowRef<PDFDocumentProxy>()
const pages = ref<{ number: number; ratio: number; begun: boolean; drawn: boolean }[]>([])
let gone = false

async function open() {
  try {
    const pdf = await openPDF(props.url)
    if (gone) return void pdf.loadingTask.destroy()
    document_.value = pdf
    const size = (await pdf.getPage(1)).getViewport({ scale: 1 })
    const all = props.onlyFirst ? 1 : pdf.numPages
    pages.value = Array.from({ length: all }, (_, i) => ({ number: i + 1, ratio: size.height / size.width, begun: false, drawn: false }))
    emit('ready', pdf.numPages)
  } catch {
    if (!gone) emit('failed')
  }
}

async function draw(number: number, el: HTMLElement) {
  const entry = pages.value[number - 1]
  if (!entry || entry.begun || !document_.value) return
  entry.begun = true
  const page = await document_.value.getPage(number)
  const view = page.getViewport({ scale: 1 })
  entry.ratio = view.height / view.width
  const canvas = el.querySelector('canvas')
  if (canvas) await drawPage(page, canvas, el.clientWidth).promise
  entry.drawn = true
}

const inView = new Set<number>()
function watchPage(el: unknown, number: number) {
  if (!(el instanceof HTMLElement) || el.dataset.watched) return
  el.dataset.watched = 'yes'
  useIntersectionObserver(
    ref(el),
    ([seen]) => {
      inView[seen?.isIntersecting ? 'add' : 'delete'](number)
      emit('seen', [...inView])
    },
    { threshold: 0.2 },
  )
  const { stop } = useIntersectionObserver(
    ref(el),
    ([seen]) => {
      if (!seen?.isIntersecting) return
      stop()
      draw(number, el).catch(() => emit('failed'))
    },
    { rootMargin: '600px' },
  )
}

onMounted(open)
onBeforeUnmount(() => {
  gone = true
  void document_.value?.loadingTask.destroy()
})
</script>

<template>
  <div style="display: contents">
    <div
      v-for="p in pages"
      :key="p.number"
      :ref="(el) => watchPage(el, p.number)"
      class="sheet"
      :style="{ width: onlyFirst ? '100%' : 'min(820px, 100%)', aspectRatio: `1 / ${p.ratio}` }"
      :data-page="p.number"
      :data-drawn="p.drawn"
    >
      <canvas></canvas>
    </div>
  </div>
</template>
