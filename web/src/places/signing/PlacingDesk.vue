<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { isTyping } from '../../parts/keys'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { boxStyle } from '../../parts/signing/word'
import Letter from './Letter.vue'
import PlaceWords from './PlaceWords.vue'
import { kinds, letterOf, type Kind, type Placing } from './placing'

/** The pages of a paper with the places on them: pointed at or drawn, dragged, moved by keys; and each as a sentence beside them. */
const props = defineProps<{
  document: string
  version: number
  pages: Schemas['PageSize'][]
  placing: Placing
  /** The parties, as they are called. */
  parties: string[]
  /** Where something is wrong: "places/3". */
  wrong?: string
  /** Places that the paper marks itself each time; they are not moved by hand. */
  marked?: Schemas['SigningPlace'][]
  loading?: boolean
}>()
const { t } = useI18n()
const kind = ref<Kind>('signature')
const party = ref(0)
const whose = () => Math.min(party.value, props.parties.length - 1)
const hasOwn = (i: number) => props.placing.places.value.some((p) => p.party === i && p.kind === 'signature')

/** What is being drawn on a page, from where. */
let drawn: { page: number; x: number; y: number } | undefined
const at = (e: PointerEvent) => {
  const r = (e.currentTarget as HTMLElement).getBoundingClientRect()
  return { x: (e.clientX - r.left) / r.width, y: (e.clientY - r.top) / r.height, far: 8 / r.width }
}
function begin(e: PointerEvent, page: number) {
  if (e.button === 0) drawn = { page, ...at(e) }
}
/** A press puts a place of the usual size there; a stroke one as large as it. */
function end(e: PointerEvent) {
  if (!drawn || !props.parties.length) return
  const from = drawn
  drawn = undefined
  const to = at(e)
  const [w, h] = [Math.abs(to.x - from.x), Math.abs(to.y - from.y)]
  if (Math.max(w, h) < to.far) props.placing.put(from.page, from.x, from.y, kind.value, whose())
  else props.placing.draw(from.page, { x: Math.min(from.x, to.x), y: Math.min(from.y, to.y), w, h }, kind.value, whose())
  if (kind.value === 'signature' && party.value < props.parties.length - 1 && hasOwn(party.value)) party.value++
}

let dragging: { id: number; x: number; y: number; w: number; h: number; size: boolean; box: Schemas['SigningBox'] } | undefined
function grab(e: PointerEvent, id: number, size = false) {
  const page = (e.currentTarget as HTMLElement).closest('.drawn')!.getBoundingClientRect()
  const p = props.placing.places.value.find((o) => o.id === id)
  if (!p) return
  props.placing.choose(id)
  dragging = { id, x: e.clientX, y: e.clientY, w: page.width, h: page.height, size, box: { ...p.box } }
  ;(e.currentTarget as HTMLElement).setPointerCapture(e.pointerId)
}
function drag(e: PointerEvent) {
  const p = dragging && props.placing.places.value.find((o) => o.id === dragging!.id)
  if (!dragging || !p) return
  const [dx, dy] = [(e.clientX - dragging.x) / dragging.w, (e.clientY - dragging.y) / dragging.h]
  if (dx === 0 && dy === 0) return
  p.box = { ...dragging.box }
  if (dragging.size) props.placing.resize(p, dx, dy)
  else {
    props.placing.move(p, dx, dy)
    props.placing.align(p)
  }
}
const drop = () => (dragging = undefined)

/** Arrow keys move what is chosen, with the shift key they make it larger and smaller; P puts a new one. */
useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  if (isTyping(e) || e.ctrlKey || e.metaKey) return
  if (e.key.toLowerCase() === 'p') {
    e.preventDefault()
    putByKey()
  }
  const p = props.placing.at.value
  if (!p) return
  const step = e.altKey ? 0.001 : 0.005
  const by: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }
  const d = by[e.key]
  if (d) {
    e.preventDefault()
    if (e.shiftKey) props.placing.resize(p, ...d)
    else props.placing.move(p, ...d)
  } else if (e.key === 'Delete' || e.key === 'Backspace') {
    e.preventDefault()
    props.placing.remove(p)
  } else if (e.key === 'Escape') props.placing.choose()
})
/** The keyboard's way to a new place: in the middle of the page that is before one's eyes. */
function putByKey() {
  if (props.parties.length) props.placing.put(shown.value, 0.5, 0.5, kind.value, whose())
}
const shown = ref(1)
function scrolled(e: Event) {
  const box = e.currentTarget as HTMLElement
  const all = [...box.querySelectorAll<HTMLElement>('[data-page]')]
  const middle = box.getBoundingClientRect().top + box.clientHeight / 2
  shown.value = Number(all.find((el) => el.getBoundingClientRect().bottom > middle)?.dataset.page ?? 1)
}
</script>

<template>
  <div class="desk" @scroll.capture="scrolled">
    <div class="papers" role="region" :aria-label="t('signing.papers')" tabindex="0">
      <div
        v-for="(size, i) in pages"
        :key="i"
        class="drawn"
        :data-page="i + 1"
        :style="{ aspectRatio: `${size.width} / ${size.height}` }"
        @pointerdown.self="begin($event, i + 1)"
        @pointerup="end"
      >
        <img
          :src="`/api/documents/${document}/pages/${i + 1}?width=1100&version=${version}`"
          :alt="t('signing.page', { n: i + 1 })"
          loading="lazy"
        />
        <span
          v-for="p in (marked ?? []).filter((o) => o.page === i + 1)"
          :key="`m${p.id}`"
          class="box marked"
          :class="`l${p.party % 4}`"
          :style="boxStyle(p.box)"
        >
          <b>{{ letterOf(p.party) }}</b>
          {{ t(`signing.kind.${p.kind}`) }}
        </span>
        <button
          v-for="p in placing.places.value.filter((o) => o.page === i + 1)"
          :key="p.id"
          type="button"
          class="box"
          :class="[`l${p.party % 4}`, { on: p.id === placing.chosen.value, bad: wrong === `places/${p.id}` }]"
          :style="boxStyle(p.box)"
          :data-place="p.id"
          :aria-label="`${letterOf(p.party)}, ${t(`signing.kind.${p.kind}`)}, ${t('signing.page', { n: p.page })}`"
          @click.stop="placing.choose(p.id)"
          @focus="placing.choose(p.id)"
          @pointerdown.stop="grab($event, p.id)"
          @pointermove="drag"
          @pointerup.stop="drop"
        >
          <b>{{ p.kind === 'fixed' ? '' : letterOf(p.party) }}</b>
          {{ p.kind === 'fixed' ? p.value || t('signing.kind.fixed') : t(`signing.kind.${p.kind}`) }}
          <span
            class="grip"
            aria-hidden="true"
            @pointerdown.stop="grab($event, p.id, true)"
            @pointermove.stop="drag"
            @pointerup.stop="drop"
          ></span>
        </button>
      </div>
      <p v-if="loading" class="quiet">{{ t('common.loading') }}</p>
    </div>
    <aside class="places">
      <slot name="before"></slot>
      <p>
        <b>{{ t('signing.places', placing.places.value.length + (marked?.length ?? 0)) }}</b>
        {{ t('signing.walked') }}
      </p>
      <p v-if="marked?.length" class="small quiet">{{ t('signing.markedHere', marked.length) }}</p>
      <ol>
        <li v-for="(p, i) in placing.ordered.value" :key="p.id" :class="{ on: p.id === placing.chosen.value }">
          <button type="button" class="line" @click="placing.choose(p.id)">
            <span class="quiet">{{ i + 1 }}</span>
            <Letter v-if="p.kind !== 'fixed'" :letter="letterOf(p.party)" />
            <span>
              {{ p.label || (p.kind === 'fixed' && p.value) || t(`signing.does.${p.kind}`) }}, {{ t('signing.page', { n: p.page })
              }}{{ p.must || p.kind === 'signed-on' || p.kind === 'fixed' ? '' : `, ${t('signing.may')}` }}
            </span>
          </button>
          <PlaceWords
            v-if="p.id === placing.chosen.value"
            :place="p"
            :parties="parties"
            :pages="pages.length"
            @remove="placing.remove(p)"
            @all="placing.onAll(p)"
            @dated="placing.dated(p)"
          />
        </li>
      </ol>
      <div v-if="parties.length" class="another">
        <p class="small quiet">{{ t('signing.another') }}</p>
        <p class="terms">
          <SentenceSelect v-model="party" :label="t('signing.whose')" :options="parties.map((words, value) => ({ value, words }))" />
          {{ ' ' }}
          <SentenceSelect
            v-model="kind"
            :label="t('signing.what')"
            :options="kinds.map((value) => ({ value, words: t(`signing.does.${value}`) }))"
          />
        </p>
        <button type="button" class="btn btn-plain btn-small" data-put @click="putByKey">
          {{ t('signing.putHere', { n: shown }) }}
        </button>
      </div>
      <slot name="after"></slot>
    </aside>
  </div>
</template>

<style scoped>
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  min-height: 0;
}
.papers {
  overflow: auto;
  padding: 16px;
  background: var(--tb-selection);
}
.drawn {
  position: relative;
  max-width: 640px;
  margin: 0 auto 16px;
  background: var(--tb-paper);
  box-shadow: 0 1px 4px var(--tb-shade);
  cursor: crosshair;
  container-type: inline-size;
}
.drawn img {
  width: 100%;
  height: 100%;
  display: block;
  pointer-events: none;
}
.box {
  --c: var(--tb-action);
  position: absolute;
  border: 1.5px solid var(--c);
  border-radius: 2px;
  background: color-mix(in srgb, var(--tb-party-a) 12%, transparent);
  color: var(--tb-paper-ink);
  font: 1.6cqw/1 var(--bs-font-sans-serif);
  text-align: left;
  padding: 0 3px;
  overflow: hidden;
  white-space: nowrap;
  cursor: move;
  touch-action: none;
}
.box b {
  color: var(--c);
}
.l1 {
  --c: var(--tb-party-b);
  border-style: dashed;
  background: color-mix(in srgb, var(--tb-party-b) 12%, transparent);
}
.l2 {
  --c: var(--tb-paper-ink);
  border-style: dotted;
  border-width: 2px;
}
.l3 {
  --c: var(--tb-party-d);
  border-style: double;
  border-width: 3px;
}
.box.on {
  outline: 3px solid var(--tb-action);
  outline-offset: 1px;
}
.box.bad {
  border-color: var(--tb-wrong);
  background: color-mix(in srgb, var(--tb-wrong) 14%, transparent);
}
.grip {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 9px;
  height: 9px;
  background: var(--c);
  cursor: nwse-resize;
  touch-action: none;
}
.places {
  overflow-y: auto;
  border-left: 1px solid var(--tb-line);
  padding: 14px 20px;
}
.places ol {
  list-style: none;
  margin: 0 -20px;
  padding: 0;
}
.places li {
  border-top: 1px solid var(--tb-line);
  padding: 6px 20px;
}
.places li.on {
  background: var(--tb-sheet);
  box-shadow:
    inset 0 0 0 1px var(--tb-action),
    inset 3px 0 0 var(--tb-action);
}
.line {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  padding: 2px 0;
  color: inherit;
}
.another {
  border-top: 1px solid var(--tb-ink);
  margin-top: var(--tb-s3);
  padding-top: var(--tb-s2);
}
.marked {
  cursor: default;
  opacity: 0.8;
}
@media (max-width: 900px) {
  .desk {
    display: block;
  }
  /* A page as wide as it can be pointed at: it is moved under the finger. */
  .drawn {
    width: 720px;
    max-width: none;
  }
  .places {
    border: 0;
    padding: 14px 16px;
  }
  .places ol {
    margin: 0 -16px;
  }
}
</style>
