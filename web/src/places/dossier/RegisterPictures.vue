<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { extensionOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import MiddleName from '../../parts/MiddleName.vue'
import type { Line } from './lines'
import RegisterTogether from './RegisterTogether.vue'
import Small from './Small.vue'

/** A register's documents as small pictures of their first pages, in the register's order. Only those in sight are in the page. */
defineProps<{
  lines: Line[]
  rows: Schemas['DocumentRow'][]
  before: number
  after: number
  shown?: string
  isChosen: (id: string) => boolean
  at: number
  draggable: boolean
}>()
defineEmits<{
  toggle: [id: string, range: boolean]
  taken: [index: number, e: DragEvent]
  press: [index: number, e: MouseEvent]
  open: [id: string]
  key: [index: number, e: KeyboardEvent]
  narrow: [first: number]
}>()
const { t } = useI18n()
</script>

<template>
  <div class="pictures" role="grid" :aria-label="t('dossier.shape.pictures')" aria-multiselectable="true">
    <div aria-hidden="true" :style="{ height: `${before}px` }"></div>
    <div v-for="l in lines" :key="l.key" role="row">
      <div v-if="l.head" role="rowheader" class="head"><RegisterTogether :head="l.head" @narrow="$emit('narrow', $event)" /></div>
      <div v-else class="line" role="presentation" :style="{ gridTemplateColumns: `repeat(${l.across}, minmax(0, 1fr))` }">
        <div
          v-for="i in l.rows"
          :key="rows[i]!.id"
          role="gridcell"
          class="one"
          :class="{ shown: rows[i]!.id === shown }"
          :aria-selected="isChosen(rows[i]!.id) || rows[i]!.id === shown"
          :data-index="i"
          :data-thing="rows[i]!.id"
          :tabindex="i === at ? 0 : -1"
          :draggable="draggable"
          @dragstart="$emit('taken', i, $event)"
          @click="$emit('press', i, $event)"
          @dblclick="$emit('open', rows[i]!.id)"
          @keydown="$emit('key', i, $event)"
        >
          <Small :row="rows[i]!" />
          <div class="line-of-name">
            <input
              class="form-check-input"
              type="checkbox"
              tabindex="-1"
              :checked="isChosen(rows[i]!.id)"
              :aria-label="`${t('dossier.columns.choose')} ${rows[i]!.name}`"
              @click.stop="$emit('toggle', rows[i]!.id, $event.shiftKey)"
            />
            <span class="no">{{ String(rows[i]!.number).padStart(3, '0') }}</span>
            <Door v-bind="rows[i]!.door" />
            <span class="quiet small">{{ extensionOf(rows[i]!.name) }}</span>
          </div>
          <MiddleName :name="rows[i]!.name" />
        </div>
      </div>
    </div>
    <div aria-hidden="true" :style="{ height: `${Math.max(after, 0)}px` }"></div>
  </div>
</template>

<style scoped>
.head {
  height: 30px;
  padding: 6px 20px 0;
  border-bottom: 1px solid var(--tb-rule);
}
.line {
  display: grid;
  height: 196px;
  padding: 0 16px;
}
.one {
  display: grid;
  grid-template-rows: 136px 24px 22px;
  padding: var(--tb-s2);
  min-width: 0;
  cursor: default;
}
.one[aria-selected='true'] {
  background: var(--tb-selection);
}
.shown {
  box-shadow: inset 0 0 0 1px var(--tb-action);
}
.line-of-name {
  display: flex;
  align-items: center;
  gap: var(--tb-s2);
  font-size: var(--tb-small);
}
.line-of-name .form-check-input {
  margin: 0;
}
</style>
