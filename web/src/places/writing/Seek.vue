<script setup lang="ts">
import { TextSelection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { computed, nextTick, onBeforeUnmount, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { placesOf, seekKey } from '../../parts/writing/seek'

/** Words are looked for in the text, and replaced. */
const props = defineProps<{ view: EditorView; changes: number; writes: boolean }>()
const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const words = ref('')
const instead = ref('')
const at = ref(0)
const field = useTemplateRef<HTMLInputElement>('field')
const found = computed(() => (props.changes >= 0 ? placesOf(props.view.state.doc, words.value) : []))

function mark() {
  at.value = Math.min(at.value, Math.max(0, found.value.length - 1))
  const tr = props.view.state.tr.setMeta(seekKey, { places: found.value, at: at.value })
  props.view.dispatch(tr)
}
/** Marks are drawn anew where something was written; what they change themselves is nothing that was. */
let drawn = ''
watch(
  [found, at],
  () => {
    const now = JSON.stringify([found.value, at.value])
    if (now === drawn) return
    drawn = now
    mark()
  },
  { flush: 'post' },
)
watch(words, () => (at.value = 0))
function reveal() {
  void nextTick(() => props.view.dom.querySelector('.found-here')?.scrollIntoView({ block: 'center' }))
}
function step(by: number) {
  if (!found.value.length) return
  at.value = (at.value + by + found.value.length) % found.value.length
  reveal()
}
/** Each is an act of its own, so that whoever may only propose proposes each. */
function replace(all: boolean) {
  const places = all ? [...found.value].reverse() : found.value.slice(at.value, at.value + 1)
  for (const p of places) {
    const marks = props.view.state.doc.resolve(p.from + 1).marks()
    const { state } = props.view
    props.view.dispatch(
      instead.value ? state.tr.replaceWith(p.from, p.to, state.schema.text(instead.value, marks)) : state.tr.delete(p.from, p.to),
    )
  }
  // What was put there may hold the words again; the next place is the one behind it.
  if (!all && places[0] && found.value[at.value]?.from === places[0].from) step(1)
  else reveal()
}
onMounted(() => {
  const { from, to } = props.view.state.selection
  const chosen = props.view.state.doc.textBetween(from, to, ' ')
  if (chosen.length < 200) words.value = chosen
  field.value?.focus()
  field.value?.select()
})
onBeforeUnmount(() => {
  if (props.view.isDestroyed) return
  const place = found.value[at.value]
  const tr = props.view.state.tr.setMeta(seekKey, { places: [], at: 0 })
  if (place) tr.setSelection(TextSelection.create(tr.doc, place.from, place.to))
  props.view.dispatch(tr)
  props.view.focus()
})
</script>

<template>
  <form class="seek" role="search" @submit.prevent="step(1)" @keydown.esc.stop.prevent="emit('close')">
    <label class="small">
      {{ t('writing.seek.words') }}
      <input
        ref="field"
        v-model="words"
        class="form-control form-control-sm"
        maxlength="200"
        data-seek
        @keydown.shift.enter.prevent="step(-1)"
        @input="reveal"
      />
    </label>
    <span class="small quiet" role="status">
      {{ found.length ? t('writing.seek.at', { n: at + 1, all: found.length }) : words ? t('writing.seek.nowhere') : '' }}
    </span>
    <button type="button" class="btn btn-text btn-small" :disabled="!found.length" @click="step(-1)">{{ t('writing.seek.before') }}</button>
    <button type="submit" class="btn btn-text btn-small" :disabled="!found.length">{{ t('writing.seek.next') }}</button>
    <template v-if="writes">
      <label class="small">
        {{ t('writing.seek.instead') }}
        <input v-model="instead" class="form-control form-control-sm" maxlength="200" data-instead />
      </label>
      <button type="button" class="btn btn-plain btn-small" :disabled="!found.length" @click="replace(false)">
        {{ t('writing.seek.replace') }}
      </button>
      <button type="button" class="btn btn-plain btn-small" :disabled="!found.length" @click="replace(true)">
        {{ t('writing.seek.all', { n: found.length }, found.length) }}
      </button>
    </template>
    <button type="button" class="btn btn-text btn-small" @click="emit('close')">{{ t('common.close') }}</button>
  </form>
</template>

<style scoped>
.seek {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px var(--tb-s3);
  padding: 6px 24px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-rule);
}
.seek label {
  display: flex;
  align-items: center;
  gap: 8px;
}
.seek input {
  width: 180px;
}
@media (max-width: 900px) {
  .seek {
    padding: 6px 16px;
  }
  .seek input {
    width: 130px;
  }
}
</style>
