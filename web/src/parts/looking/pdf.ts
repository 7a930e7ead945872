import type { PDFDocumentProxy, PDFPageProxy, RenderTask } from 'pdfjs-dist'
import worker from 'pdfjs-dist/build/pdf.worker.min.mjs?url'

/** Opens a PDF; the library is fetched only now. Ranges are asked for as pages are looked at. */
export async function openPDF(url: string): Promise<PDFDocumentProxy> {
  const pdfjs = await import('pdfjs-dist')
  pdfjs.GlobalWorkerOptions.workerSrc = worker
  const parts = `/assets/pdfjs-${pdfjs.version}/`
  return pdfjs.getDocument({
    url,
    enableXfa: false,
    useSystemFonts: false,
    standardFontDataUrl: `${parts}standard_fonts/`,
    cMapUrl: `${parts}cmaps/`,
    wasmUrl: `${parts}wasm/`,
    iccUrl: `${parts}iccs/`,
  }).promise
}

/** Draws a page at a width in CSS pixels. */
export function drawPage(page: PDFPageProxy, canvas: HTMLCanvasElement, width: number): RenderTask {
  const scale = (width / page.getViewport({ scale: 1 }).width) * Math.min(2, window.devicePixelRatio || 1)
  const viewport = page.getViewport({ scale })
  canvas.width = viewport.width
  canvas.height = viewport.height
  return page.render({ canvas, viewport })
}
