<script setup lang="ts">
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import type { Hand, SignWord } from './word'

/** Where somebody writes by hand: drawn with its pressure, typed, or taken from a picture. */
const props = defineProps<{ hand?: Hand; name: string; word: SignWord }>()
const emit = defineEmits<{ change: [hand?: Hand] }>()
const height = 0.32
const way = ref<'draw' | 'type' | 'picture'>(props.hand?.typed ? 'type' : props.hand?.picture ? 'picture' : 'draw')
const strokes = ref<{ x: number; y: number; p: number }[][]>(
  props.hand?.strokes ? structuredClone(props.hand.strokes.map((s) => s.map((p) => ({ ...p })))) : [],
)
const typed = ref(props.hand?.typed ?? '')
const picture = ref(props.hand?.picture ?? '')
const failed = ref(false)
const pad = useTemplateRef<SVGSVGElement>('pad')
let drawing = false

function point(e: PointerEvent) {
  const r = pad.value!.getBoundingClientRect()
  const at = (v: number, most: number) => Math.min(most, Math.max(0, Math.round(v * 10000) / 10000))
  const hard = e.pointerType === 'mouse' || !e.pressure ? 0.5 : Math.min(1, e.pressure)
  return { x: at((e.clientX - r.left) / r.width, 1), y: at((e.clientY - r.top) / r.width, height), p: Math.round(hard * 100) / 100 }
}
function down(e: PointerEvent) {
  e.preventDefault()
  pad.value!.setPointerCapture(e.pointerId)
  drawing = true
  strokes.value.push([point(e)])
}
function move(e: PointerEvent) {
  if (!drawing) return
  const all = e.getCoalescedEvents?.() ?? []
  strokes.value.at(-1)!.push(...(all.length ? all : [e]).map(point))
}
function up() {
  if (!drawing) return
  drawing = false
  say()
}
function say() {
  if (way.value === 'draw') {
    const real = strokes.value.filter((s) => s.length > 1)
    emit('change', real.length ? { strokes: real, height } : undefined)
  } else if (way.value === 'type') emit('change', typed.value.trim() ? { typed: typed.value.trim() } : undefined)
  else emit('change', picture.value ? { picture: picture.value } : undefined)
}
function to(w: typeof way.value) {
  way.value = w
  if (w === 'type' && !typed.value) typed.value = props.name
  say()
}
function clear() {
  strokes.value = []
  typed.value = picture.value = ''
  say()
}
/** Pictures of any size are drawn small before they travel. */
async function take(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  failed.value = false
  if (!file) return
  try {
    const from = await createImageBitmap(file)
    const scale = Math.min(1, 900 / from.width, 500 / from.height)
    const canvas = document.createElement('canvas')
    canvas.width = Math.max(1, Math.round(from.width * scale))
    canvas.height = Math.max(1, Math.round(from.height * scale))
    const c = canvas.getContext('2d')!
    c.fillStyle = '#fff'
    c.fillRect(0, 0, canvas.width, canvas.height)
    c.drawImage(from, 0, 0, canvas.width, canvas.height)
    picture.value = canvas.toDataURL('image/jpeg', 0.85).split(',')[1]!
    say()
  } catch {
    failed.value = true
  }
}
const paths = computed(() => strokes.value.map((s) => s.map((p, i) => `${i ? 'L' : 'M'}${p.x * 1000} ${p.y * 1000}`).join(' ')))
onMounted(say)
</script>

<template>
  <div class="signpad">
    <div class="ways" role="tablist">
      <button
        v-for="w in ['draw', 'type', 'picture'] as const"
        :key="w"
        type="button"
        role="tab"
        class="go"
        :aria-selected="way === w"
        @click="to(w)"
      >
        {{ word(w) }}
      </button>
      <button type="button" class="go clear" @click="clear">{{ word('clear') }}</button>
    </div>
    <svg
      v-if="way === 'draw'"
      ref="pad"
      class="pad"
      :viewBox="`0 0 1000 ${height * 1000}`"
      role="img"
      :aria-label="word('drawLabel')"
      data-pad
      @pointerdown="down"
      @pointermove="move"
      @pointerup="up"
      @pointercancel="up"
    >
      <line x1="150" x2="850" :y1="height * 800" :y2="height * 800" stroke="#c3ccca" stroke-width="2" />
      <path
        v-for="(d, i) in paths"
        :key="i"
        :d="d"
        fill="none"
        stroke="#10185f"
        stroke-width="9"
        stroke-linecap="round"
        stroke-linejoin="round"
      />
    </svg>
    <label v-else-if="way === 'type'" class="typing">
      <span class="small quiet">{{ word('typeLabel') }}</span>
      <input v-model="typed" class="form-control" maxlength="80" autocomplete="name" data-typed @input="say" />
    </label>
    <div v-else class="typing">
      <label class="btn btn-plain">
        {{ word('choosePicture') }}
        <input type="file" accept="image/*" capture="environment" class="visually-hidden" @change="take" />
      </label>
      <img v-if="picture" class="taken" :src="`data:image/jpeg;base64,${picture}`" alt="" />
      <p v-if="failed" class="t-caution small" role="alert">{{ word('choosePicture') }}: PNG, JPEG</p>
    </div>
  </div>
</template>

<style scoped>
.ways {
  display: flex;
  gap: var(--tb-s4);
  margin-bottom: var(--tb-s2);
}
.ways .go {
  color: var(--tb-action);
  padding: 2px 0;
}
.ways [aria-selected='true'] {
  color: var(--tb-ink);
  font-weight: 600;
  box-shadow: inset 0 -2px 0 var(--tb-action);
}
.clear {
  margin-left: auto;
}
.pad {
  display: block;
  width: 100%;
  background: var(--tb-paper);
  border: 1px solid var(--tb-edge);
  border-radius: 3px;
  touch-action: none;
  cursor: crosshair;
}
.typing {
  display: block;
  min-height: 96px;
}
.typing .form-control {
  font:
    italic 1.5rem/2.2rem 'Literata Variable',
    serif;
}
.taken {
  display: block;
  max-height: 110px;
  max-width: 100%;
  margin-top: var(--tb-s2);
  background: var(--tb-paper);
}
</style>
