<script setup lang="ts">
import type { PDFDocumentProxy } from 'pdfjs-dist'
import { onBeforeUnmount, onMounted, ref } from 'vue'
import { drawPage, openPDF } from './pdf'

/** A PDF's first page, as wide as there is space. */
const props = defineProps<{ url: string }>()
const sheet = ref<HTMLElement>()
const canvas = ref<HTMLCanvasElement>()
const ratio = ref(1.414)
const drawn = ref(false)
let pdf: PDFDocumentProxy | undefined
let gone = false

onMounted(async () => {
  try {
    pdf = await openPDF(props.url)
    const page = await pdf.getPage(1)
    const view = page.getViewport({ scale: 1 })
    ratio.value = view.height / view.width
    if (!gone && canvas.value) await drawPage(page, canvas.value, sheet.value?.clientWidth ?? 300).promise
    drawn.value = true
  } catch {
    // What cannot be drawn stays a blank sheet; looking at it says why.
  }
  if (gone) void pdf?.loadingTask.destroy()
})
onBeforeUnmount(() => {
  gone = true
  void pdf?.loadingTask.destroy()
})
</script>

<template>
  <div ref="sheet" class="sheet" :style="{ width: '100%', aspectRatio: `1 / ${ratio}` }" data-page="1" :data-drawn="drawn">
    <canvas ref="canvas"></canvas>
  </div>
</template>
