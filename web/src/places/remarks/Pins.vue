<script setup lang="ts">
import { useEventListener, useMutationObserver } from '@vueuse/core'
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import type { Place } from '../../queries/remarks'

/**
 * The places of remarks on the pages of a document that is looked at, and a new one being chosen: by a click for a point,
 * by drawing for an area. Pages are whatever bears its number, however they are shown.
 */
const props = defineProps<{
  within: HTMLElement | undefined
  threads: Schemas['RemarkThread'][]
  numbers: Map<string, number>
  picked?: string
  choosing?: 'point' | 'area'
}>()
const emit = defineEmits<{ pick: [thread: string]; chosen: [place: Place] }>()
const { t } = useI18n()
const pages = shallowRef(new Map<number, HTMLElement>())
/** Where pages are now, within what shows them: it scrolls and fits them anew by itself. */
const boxes = shallowRef(new Map<number, { left: number; top: number; width: number; height: number; shown: (y: number) => boolean }>())
const drawn = ref<Place>()
function look() {
  const found = new Map<number, HTMLElement>()
  props.within?.querySelectorAll<HTMLElement>('[data-page], .page[data-page-number]').forEach((e) => {
    // The list of pages bears numbers, too.
    if (e.clientWidth > 240) found.set(Number(e.dataset.page ?? e.dataset.pageNumber), e)
  })
  pages.value = found
  measure()
}
function measure() {
  const around = props.within?.getBoundingClientRect()
  if (!around) return
  boxes.value = new Map(
    [...pages.value].map(([n, e]) => {
      const r = e.getBoundingClientRect()
      const scrolls = scroller(e)?.getBoundingClientRect() ?? around
      const shown = (y: number) => r.top + y * r.height >= scrolls.top && r.top + y * r.height <= scrolls.bottom
      return [n, { left: r.left - around.left, top: r.top - around.top, width: r.width, height: r.height, shown }]
    }),
  )
}
/** What a page scrolls in. */
function scroller(e: HTMLElement): HTMLElement | null {
  let at = e.parentElement
  while (at && at !== props.within && at.scrollHeight <= at.clientHeight + 1) at = at.parentElement
  return at
}
onMounted(look)
useMutationObserver(() => props.within, look, {
  childList: true,
  subtree: true,
  attributes: true,
  attributeFilter: ['style', 'data-page', 'data-page-number'],
})
useEventListener('resize', measure)
useEventListener(() => props.within, 'scroll', measure, { capture: true, passive: true })

const placed = computed(() =>
  props.threads.filter((th) => th.place?.page && ['point', 'area', 'page'].includes(th.place.kind) && th.carried),
)
/** A part of a page as it stands within what shows it. */
function at(page: number, x: number, y: number, width = 0, height = 0) {
  const b = boxes.value.get(page)
  return (
    b && {
      left: `${b.left + x * b.width}px`,
      top: `${b.top + y * b.height}px`,
      width: `${width * b.width}px`,
      height: `${height * b.height}px`,
    }
  )
}
const spot = (p: Place) => {
  const where = at(p.page ?? 0, (p.x ?? 0) + (p.width ?? 0), p.y ?? 0)
  return where && { left: where.left, top: where.top }
}
const area = (p: Place) => at(p.page ?? 0, p.x ?? 0, p.y ?? 0, p.width, p.height)
const inSight = (p: Place) => boxes.value.get(p.page ?? 0)?.shown(p.y ?? 0)

/** Where on which page a pointer is. */
function under(e: PointerEvent): { page: number; x: number; y: number } | undefined {
  for (const [page, element] of pages.value) {
    const r = element.getBoundingClientRect()
    const x = (e.clientX - r.left) / r.width
    const y = (e.clientY - r.top) / r.height
    if (x >= 0 && x <= 1 && y >= 0 && y <= 1) return { page, x, y }
  }
  return undefined
}
let begun: { page: number; x: number; y: number } | undefined
useEventListener(
  () => props.within,
  'pointerdown',
  (e) => {
    if (!props.choosing) return
    begun = under(e)
    if (!begun) return
    e.preventDefault()
    e.stopPropagation()
    drawn.value = { kind: 'point', ...begun }
  },
  { capture: true },
)
useEventListener(
  () => props.within,
  'pointermove',
  (e) => {
    if (begun && props.choosing === 'area') drawn.value = between(begun, under(e) ?? begun)
  },
  { capture: true },
)
function between(a: { page: number; x: number; y: number }, b: { page: number; x: number; y: number }): Place {
  if (a.page !== b.page) return { kind: 'point', ...a }
  return {
    kind: 'area',
    page: a.page,
    x: Math.min(a.x, b.x),
    y: Math.min(a.y, b.y),
    width: Math.abs(a.x - b.x),
    height: Math.abs(a.y - b.y),
  }
}
useEventListener('pointerup', (e) => {
  if (!begun) return
  const place = props.choosing === 'area' ? between(begun, under(e) ?? begun) : ({ kind: 'point', ...begun } as Place)
  begun = undefined
  // A drawing of next to nothing is a point.
  const small = place.kind === 'area' && ((place.width ?? 0) < 0.005 || (place.height ?? 0) < 0.005)
  drawn.value = undefined
  emit('chosen', small ? { kind: 'point', page: place.page, x: place.x, y: place.y } : place)
})
</script>

<template>
  <div class="pins">
    <template v-for="th in placed" :key="th.id">
      <template v-if="inSight(th.place!)">
        <span
          v-if="th.place!.kind === 'area'"
          class="area"
          :class="{ on: th.id === picked }"
          :style="area(th.place!)"
          aria-hidden="true"
        ></span>
        <button
          type="button"
          class="pin"
          :class="{
            on: th.id === picked,
            settled: th.resolved,
            whole: th.place!.kind === 'page',
            unread: th.remarks.some((r) => r.unread),
          }"
          :style="spot(th.place!)"
          :aria-label="t('remarks.pin', { n: numbers.get(th.id) ?? '', by: th.remarks[0].by })"
          @click="emit('pick', th.id)"
        >
          {{ numbers.get(th.id) }}
        </button>
      </template>
    </template>
    <span v-if="drawn && inSight(drawn)" class="area on" :style="area(drawn)" aria-hidden="true"></span>
  </div>
</template>

<style scoped>
.pins {
  position: absolute;
  inset: 0;
  overflow: hidden;
  pointer-events: none;
}
.pin {
  position: absolute;
  min-width: 22px;
  height: 22px;
  padding: 0 4px;
  transform: translate(-2px, -20px);
  border: 1px solid var(--tb-ink);
  border-radius: 11px 11px 11px 2px;
  background: var(--tb-sheet);
  color: var(--tb-ink);
  font: 600 var(--tb-small) / 1 var(--bs-font-sans-serif);
  pointer-events: auto;
}
.pin.whole {
  transform: translate(6px, 6px);
}
.pin.unread {
  background: var(--tb-ink);
  color: var(--tb-sheet);
}
.pin.settled {
  border-style: dashed;
}
.pin.on {
  background: var(--tb-action);
  border-color: var(--tb-action);
  color: var(--tb-on-action);
}
.area {
  position: absolute;
  border: 2px solid var(--tb-ink);
}
.area.on {
  border-color: var(--tb-action);
  background: color-mix(in srgb, var(--tb-action) 12%, transparent);
}
</style>
