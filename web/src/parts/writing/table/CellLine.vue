<script setup lang="ts">
import { computed, useTemplateRef } from 'vue'
import { useVoice } from '../voice'
import { replaced, written } from './formula'
import type { Shown } from './shown'
import { formats } from './values'

/** The chosen cell: where it is, what was written there, what it comes to and how it is shown. */
const props = defineProps<{
  cell: string
  column: string
  row: number
  text: string
  shown: Shown
  format: string
  writes: boolean
  headings: (c: number) => string
}>()
const emit = defineEmits<{ begin: []; done: []; discard: []; format: [code: string]; fill: [] }>()
const typing = defineModel<string | undefined>('typing', { required: true })
const { t } = useVoice()
const field = useTemplateRef<HTMLInputElement>('field')
const value = computed({
  get: () => typing.value ?? props.text,
  set: (v: string) => (typing.value = v),
})
/** A formula as a sentence: cells of its own row are called by their headings. */
const sentence = computed(() => {
  if (!props.text.startsWith('=')) return ''
  const said = replaced(props.text, (r) => {
    const own = r.kind === 'cells' && !r.prefix && !r.to && r.from.row === props.row - 1
    return own ? props.headings(r.from.column) : written(r)
  })
  return said
    .slice(1)
    .replaceAll('*', ' × ')
    .replaceAll('/', ' ÷ ')
    .replace(/(?<=[\p{L}\p{N})%])\s*-\s*(?=[\p{L}\p{N}(])/gu, ' − ')
    .replace(/\s+/g, ' ')
})
const chosenFormat = computed(() => ((formats as readonly string[]).includes(props.format) ? props.format : 'other'))
const why = computed(() => {
  if (!props.shown.error) return ''
  const code = { '#DIV/0!': 'zero', '#REF!': 'gone', '#N/A': 'missing', '#VALUE!': 'kind', '#NAME?': 'name', '#NUM!': 'number' }[
    props.shown.text
  ]
  return t(`writing.grid.amiss.${code ?? 'other'}`)
})
function keys(e: KeyboardEvent) {
  if (e.isComposing) return
  if (e.key === 'Enter') emit('done')
  else if (e.key === 'Escape') emit('discard')
  else return
  e.preventDefault()
  field.value?.blur()
}
</script>

<template>
  <div class="cell-line">
    <span class="no where" aria-live="polite">{{ cell }}</span>
    <input
      ref="field"
      v-model="value"
      class="form-control form-control-sm"
      :readonly="!writes"
      :aria-label="t('writing.grid.inCell', { cell, column })"
      spellcheck="false"
      data-cell-line
      @focus="writes && emit('begin')"
      @keydown="keys"
    />
    <p class="sentence" :class="{ 't-caution': why }">
      <template v-if="why">{{ why }}</template>
      <template v-else-if="sentence">
        {{ t('writing.grid.is', { column, sentence }) }}
      </template>
      <template v-else>{{ column }}</template>
    </p>
    <template v-if="writes">
      <label class="shown-as small">
        <span>{{ t('writing.grid.shownAs') }}</span>
        <select
          class="form-select form-select-sm"
          :value="chosenFormat"
          :aria-label="t('writing.grid.shownAs')"
          data-format
          @change="emit('format', ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="f in formats" :key="f" :value="f">{{ t(`writing.grid.formats.${formats.indexOf(f)}`) }}</option>
          <option v-if="chosenFormat === 'other'" value="other" disabled>{{ format }}</option>
        </select>
      </label>
      <button type="button" class="btn btn-text btn-small" :title="t('writing.grid.fillKeys')" @click="emit('fill')">
        {{ t('writing.grid.fill') }}
      </button>
    </template>
  </div>
</template>

<style scoped>
.cell-line {
  display: grid;
  grid-template-columns: 56px minmax(140px, 300px) minmax(0, 1fr) auto auto;
  align-items: center;
  gap: var(--tb-s3);
  padding: 6px 24px 6px 12px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-rule);
}
.where {
  text-align: right;
}
.sentence {
  margin: 0;
  font-family: var(--tb-font-letter, 'Literata Variable', serif);
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.shown-as {
  display: flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
@media (max-width: 900px) {
  .cell-line {
    grid-template-columns: 44px minmax(0, 1fr) auto;
    padding: 6px 12px;
  }
  .sentence {
    grid-column: 1 / -1;
    grid-row: 2;
  }
  .shown-as span {
    display: none;
  }
  .cell-line > .btn {
    display: none;
  }
}
</style>
