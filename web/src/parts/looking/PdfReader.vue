<script setup lang="ts">
import type { PDFDocumentProxy } from 'pdfjs-dist'
import type { EventBus, PDFViewer } from 'pdfjs-dist/web/pdf_viewer.mjs'
import { useResizeObserver } from '@vueuse/core'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, shallowRef, watch } from 'vue'
import PageList from './PageList.vue'
import { drawPage, openPDF } from './pdf'
import { usePrinting } from './print'
import ReaderBar from './ReaderBar.vue'
import type { LookWord, Sought } from './word'

/** A PDF to read: its text can be found and copied, its pages are drawn as they come near. */
const props = defineProps<{
  url: string
  name: string
  word: LookWord
  /** Words that were looked for, and the page on which one begins to read. */
  sought?: Sought
}>()
const emit = defineEmits<{ ready: []; failed: []; seen: [pages: number[]] }>()
const container = ref<HTMLDivElement>()
const pdf = shallowRef<PDFDocumentProxy>()
const viewer = shallowRef<PDFViewer>()
const ratios = ref<number[]>([])
const page = ref(1)
const size = ref('page-width')
const listed = ref(false)
const typed = ref('')
const hits = ref({ at: 0, of: 0 })
let bus: EventBus | undefined
let seeing: IntersectionObserver | undefined
let gone = false

const sizes = computed(() => [
  { value: '0.5', words: '50 %' },
  { value: 'page-fit', words: props.word('whole') },
  { value: 'page-width', words: props.word('width') },
  ...['1', '1.5', '2', '3'].map((s) => ({ value: s, words: `${Number(s) * 100} %` })),
])

async function open() {
  try {
    const opened = await openPDF(props.url)
    // The second is written for the first, and looks for it at its start.
    const { EventBus, PDFFindController, PDFLinkService, PDFViewer } = await import('pdfjs-dist/web/pdf_viewer.mjs')
    if (gone || !container.value) return void opened.loadingTask.destroy()
    bus = new EventBus()
    const linkService = new PDFLinkService({ eventBus: bus })
    // Links within the document lead to their page; what leads out of it stays text.
    linkService.externalLinkEnabled = false
    const findController = new PDFFindController({ linkService, eventBus: bus })
    const made = new PDFViewer({
      container: container.value,
      eventBus: bus,
      linkService,
      findController,
      annotationMode: 1,
      annotationEditorMode: -1,
    })
    linkService.setViewer(made)
    listen(bus, made)
    made.setDocument(opened)
    linkService.setDocument(opened, null)
    ;[pdf.value, viewer.value] = [opened, made]
  } catch {
    if (!gone) emit('failed')
  }
}

function listen(on: EventBus, made: PDFViewer) {
  on.on('pagesinit', () => {
    made.currentScaleValue = size.value
    ratios.value = Array.from({ length: made.pagesCount }, (_, i) => ratioOf(made, i))
    watchPages()
    emit('ready')
    begin()
  })
  on.on('pagesloaded', () => (ratios.value = ratios.value.map((_, i) => ratioOf(made, i))))
  on.on('pagechanging', (e: { pageNumber: number }) => (page.value = e.pageNumber))
  const count = (e: { matchesCount: { current: number; total: number } }) =>
    (hits.value = { at: e.matchesCount.current, of: e.matchesCount.total })
  on.on('updatefindmatchescount', count)
  on.on('updatefindcontrolstate', count)
}
function ratioOf(made: PDFViewer, i: number): number {
  const { width, height } = (made.getPageView(i) as { viewport: { width: number; height: number } }).viewport
  return height / width
}
/** Which pages are before somebody's eyes. */
function watchPages() {
  const inView = new Set<number>()
  seeing = new IntersectionObserver(
    (changes) => {
      for (const c of changes) inView[c.isIntersecting ? 'add' : 'delete'](Number((c.target as HTMLElement).dataset.pageNumber))
      emit('seen', [...inView])
    },
    { root: container.value, threshold: 0.2 },
  )
  container.value?.querySelectorAll('.page').forEach((p) => seeing?.observe(p))
}

watch(page, (n) => {
  if (viewer.value && viewer.value.currentPageNumber !== n) viewer.value.currentPageNumber = n
})
watch(size, (s) => viewer.value && (viewer.value.currentScaleValue = s))
/** What stands beside the page takes width from it, and it is fitted anew. */
const fit = () => void nextTick(() => viewer.value && Number.isNaN(Number(size.value)) && (viewer.value.currentScaleValue = size.value))
useResizeObserver(container, fit)

/** What is looked for: what is typed, or each of several words that came from elsewhere. */
const several = computed(() => (props.sought && typed.value === props.sought.asked ? props.sought.words : typed.value))
/** Reading begins at a page, from which on the words are looked for. */
function begin() {
  if (!props.sought || !viewer.value?.pagesCount) return
  viewer.value.currentPageNumber = Math.min(props.sought.page, viewer.value.pagesCount)
  typed.value = props.sought.asked
}
watch(() => props.sought, begin)

const find = (type: '' | 'again', findPrevious = false) =>
  bus?.dispatch('find', {
    source: props,
    type,
    query: several.value,
    caseSensitive: false,
    entireWord: false,
    highlightAll: true,
    findPrevious,
    matchDiacritics: false,
  })
watch(several, () => find(''))

async function drawSmall(n: number, to: HTMLElement) {
  const canvas = document.createElement('canvas')
  to.replaceChildren(canvas)
  const drawn = await pdf.value?.getPage(n)
  if (drawn && !gone) await drawPage(drawn, canvas, 120).promise.catch(() => undefined)
}
/** In CSS pixels: sharp on paper. */
const printWidth = 1240
async function printed(n: number) {
  const canvas = document.createElement('canvas')
  await drawPage(await pdf.value!.getPage(n), canvas, printWidth / Math.min(2, devicePixelRatio || 1)).promise
  const blob = await new Promise<Blob | null>((done) => canvas.toBlob(done, 'image/png'))
  return URL.createObjectURL(blob!)
}
const { busy, print } = usePrinting(
  props.word,
  () => pdf.value?.numPages ?? 0,
  printed,
  () => emit('failed'),
)

onMounted(open)
onBeforeUnmount(() => {
  gone = true
  seeing?.disconnect()
  viewer.value?.cleanup()
  void pdf.value?.loadingTask.destroy()
})
</script>

<template>
  <div class="reader">
    <ReaderBar
      v-model:page="page"
      v-model:size="size"
      v-model:listed="listed"
      v-model:sought="typed"
      :word="word"
      :pages="ratios.length"
      :sizes="sizes"
      :hits="hits"
      :busy="busy"
      findable
      printable
      @hit="find('again', $event < 0)"
      @print="print"
    />
    <div class="below">
      <PageList v-if="listed" v-model="page" :word="word" :ratios="ratios" :draw="drawSmall" />
      <div class="hold">
        <div ref="container" class="reading" tabindex="0" role="region" :aria-label="name">
          <div class="pdfViewer"></div>
        </div>
      </div>
    </div>
  </div>
</template>

<style lang="scss">
// What the library's parts need of style: pages below each other, the text laid over them, and the places found in it.
.reader {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  min-height: 0;
  height: 100%;
  .below {
    display: flex;
    min-height: 0;
  }
  .hold {
    position: relative;
    flex: 1;
    min-width: 0;
  }
  .reading {
    position: absolute;
    inset: 0;
    overflow: auto;
  }
}
.pdfViewer {
  --scale-factor: 1;
  padding: var(--tb-s3) 0;
  .page {
    --user-unit: 1;
    --total-scale-factor: calc(var(--scale-factor) * var(--user-unit));
    --scale-round-x: 1px;
    --scale-round-y: 1px;
    position: relative;
    direction: ltr;
    margin: 0 auto var(--tb-s4);
    background: #fff;
    box-shadow: 0 0 0 1px var(--tb-line);
  }
  .canvasWrapper {
    overflow: hidden;
    width: 100%;
    height: 100%;
    canvas {
      position: absolute;
      inset: 0;
      display: block;
      width: 100%;
      height: 100%;
    }
  }
  .hiddenCanvasElement {
    display: none;
  }
  // Links within the document; everything else of notes is on the drawn page.
  .annotationLayer {
    position: absolute;
    inset: 0;
    pointer-events: none;
    transform-origin: 0 0;
    > section:not(.linkAnnotation) {
      display: none;
    }
    .linkAnnotation {
      position: absolute;
      pointer-events: auto;
      a {
        position: absolute;
        inset: 0;
      }
    }
  }
}
.textLayer {
  color-scheme: only light;
  position: absolute;
  inset: 0;
  overflow: clip;
  line-height: 1;
  text-align: initial;
  text-size-adjust: none;
  forced-color-adjust: none;
  transform-origin: 0 0;
  --min-font-size: 1;
  --text-scale-factor: calc(var(--total-scale-factor) * var(--min-font-size));
  --min-font-size-inv: calc(1 / var(--min-font-size));
  :is(span, br) {
    color: transparent;
    position: absolute;
    white-space: pre;
    cursor: text;
    transform-origin: 0% 0%;
  }
  > :not(.markedContent),
  .markedContent span:not(.markedContent) {
    z-index: 1;
    --font-height: 0;
    font-size: calc(var(--text-scale-factor) * var(--font-height));
    --scale-x: 1;
    --rotate: 0deg;
    transform: rotate(var(--rotate)) scaleX(var(--scale-x)) scale(var(--min-font-size-inv));
  }
  .markedContent {
    display: contents;
  }
  .highlight {
    background: rgb(214 160 0 / 0.35);
    &.appended {
      position: initial;
    }
    &.selected {
      background: rgb(190 60 20 / 0.45);
      outline: 1px solid rgb(150 40 10);
      scroll-margin: 80px;
    }
  }
  .endOfContent {
    display: block;
    position: absolute;
    inset: 100% 0 0;
    z-index: 0;
    user-select: none;
  }
}
</style>
