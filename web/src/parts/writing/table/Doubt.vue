<script setup lang="ts">
import { computed } from 'vue'
import { useVoice } from '../voice'
import { cellAt, type Sheet } from './book'
import { lettersOf } from './formula'

/** Several wrote in one cell at the same moment: what each wrote, until somebody decides. */
const props = defineProps<{
  sheet: Sheet
  at: { r: number; c: number }
  more: number
  column: string
  decides: boolean
  me: string
  nameOf: (by: string) => string
  read: (text: string) => string
}>()
const emit = defineEmits<{ take: [text: string]; show: [] }>()
const voice = useVoice()
const { t } = voice
const cell = computed(() => cellAt(props.sheet, props.at.r, props.at.c))
const who = (by: string) => (by === props.me ? t('writing.grid.youLower') : props.nameOf(by))
/** A text as a word of a sentence. */
const asWord = (text: string) => (text ? props.read(text) : t('writing.grid.nothing'))
const others = computed(() => cell.value.d?.others ?? [])
const words = computed(() =>
  t('writing.grid.doubt', {
    cell: lettersOf(props.at.c) + String(props.at.r + 1),
    column: props.column,
    others: voice.list(others.value.map((o) => t('writing.grid.wrote', { name: who(o.by), text: asWord(o.text) }))),
    last: t('writing.grid.wrote', { name: who(cell.value.d?.by ?? ''), text: asWord(cell.value.t) }),
    was: asWord(cell.value.d?.was ?? ''),
    now: asWord(cell.value.t),
  }),
)
</script>

<template>
  <div class="doubt" role="group" :aria-label="t('writing.grid.inDoubt')" data-doubt>
    <p aria-live="polite">{{ words }}</p>
    <div class="acts">
      <button v-if="decides" type="button" class="btn btn-primary btn-small" @click="emit('take', cell.t)">
        {{ t('writing.grid.keepIt', { text: asWord(cell.t) }) }}
      </button>
      <template v-if="decides">
        <button v-for="(o, i) in others" :key="i" type="button" class="btn btn-plain btn-small" @click="emit('take', o.text)">
          {{ t('writing.grid.takeIt', { text: asWord(o.text) }) }}
        </button>
      </template>
      <button type="button" class="btn btn-text btn-small" @click="emit('show')">{{ t('writing.grid.showIt') }}</button>
      <span v-if="more" class="small quiet">{{ t('writing.grid.moreDoubts', { n: more }, more) }}</span>
    </div>
  </div>
</template>

<style scoped>
.doubt {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--tb-s4);
  padding: 10px 24px;
  background: var(--tb-selection);
  border-bottom: 1px solid var(--tb-edge);
  border-left: 3px solid var(--tb-action);
}
.doubt p {
  margin: 0;
  font-family: var(--tb-font-letter, 'Literata Variable', serif);
  font-size: var(--tb-read);
}
.acts {
  flex-wrap: wrap;
  flex: none;
}
@media (max-width: 900px) {
  .doubt {
    flex-direction: column;
    align-items: stretch;
    padding: 10px 16px;
  }
}
</style>
