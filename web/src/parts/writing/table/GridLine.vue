<script setup lang="ts">
import { useVoice } from '../voice'
import type { Schemas } from '../../../api/client'
import type { Pen } from '../pens'
import { lettersOf } from './formula'
import type { Shown } from './shown'

/** A cell as a row has it: where it is, what is read there, and who or what else is at it. */
export interface GridCell {
  c: number
  id: string
  left: number
  width: number
  shown: Shown
  within: boolean
  here: boolean
  doubt?: Schemas['TableDoubt']
  /** Whoever else is there. */
  pen?: Pen
  /** Of which thread it is talked about there, and its number. */
  thread?: string
  number?: number
}

/** A row of cells: one of the headings, or one below them. */
defineProps<{
  row: number
  cells: GridCell[]
  head?: boolean
  within: boolean
  read: (text: string) => string
  letterOf: (by: string) => string
}>()
const emit = defineEmits<{
  row: [extend: boolean]
  press: [e: PointerEvent, c: number]
  drag: [c: number]
  edit: []
  thread: [id: string]
}>()
const { t } = useVoice()
</script>

<template>
  <div class="line" role="row" :aria-rowindex="row + 1">
    <span class="no aside" role="rowheader" :class="{ within }" @click="emit('row', $event.shiftKey)">{{ row + 1 }}</span>
    <span
      v-for="cell in cells"
      :id="cell.id"
      :key="cell.c"
      class="place"
      role="gridcell"
      :aria-colindex="cell.c + 1"
      :aria-selected="cell.within"
      :data-at="`${lettersOf(cell.c)}${row + 1}`"
      :class="[
        {
          head,
          within: cell.within,
          here: cell.here,
          right: cell.shown.right,
          worked: cell.shown.worked,
          amiss: cell.shown.error,
          doubt: !!cell.doubt,
        },
        cell.pen && `their-cell cell-${cell.pen.line}`,
      ]"
      :style="{ left: `${cell.left}px`, width: `${cell.width}px` }"
      :title="cell.shown.text"
      @pointerdown="emit('press', $event, cell.c)"
      @pointerenter="emit('drag', cell.c)"
      @dblclick="emit('edit')"
    >
      <em v-if="cell.pen" class="their-name">{{ cell.pen.short }}</em>
      <template v-if="cell.doubt">
        <span v-for="(o, i) in cell.doubt.others" :key="i" class="said quiet">
          <b class="pen-letter">{{ letterOf(o.by) }}</b>
          {{ read(o.text) }}
        </span>
        <b class="pen-letter">{{ letterOf(cell.doubt.by) }}</b>
      </template>
      {{ cell.shown.text }}
      <button
        v-if="cell.thread"
        type="button"
        tabindex="-1"
        class="passage-sign"
        :aria-label="t('writing.grid.said', { n: cell.number ?? 0 })"
        @click="emit('thread', cell.thread)"
      >
        {{ cell.number }}
      </button>
    </span>
  </div>
</template>

<style scoped>
.aside {
  position: sticky;
  left: 0;
  display: inline-block;
  width: 46px;
  height: 100%;
  background: var(--tb-page);
  border-right: 1px solid var(--tb-line);
  z-index: 2;
}
.aside {
  text-align: right;
  padding: 0 10px 0 0;
  line-height: inherit;
  color: var(--tb-quiet);
  font-size: var(--tb-tiny);
  display: inline-flex;
  align-items: center;
  justify-content: flex-end;
  cursor: default;
}
.aside.within {
  color: var(--tb-ink);
  font-weight: 650;
}
.line {
  position: absolute;
  left: 0;
  border-bottom: 1px solid var(--tb-line);
}
.place {
  position: absolute;
  top: 0;
  height: 100%;
  padding: 0 8px;
  display: flex;
  align-items: center;
  gap: 6px;
  border-right: 1px solid var(--tb-line);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
  cursor: cell;
  user-select: none;
}
.place.head {
  font-weight: 560;
}
.place.right {
  justify-content: flex-end;
}
.place.worked {
  background: var(--tb-page);
}
.place.amiss {
  color: var(--tb-caution-text);
}
.place.within {
  background: var(--tb-selection);
}
.place.here {
  box-shadow: inset 0 0 0 2px var(--tb-edge);
}
.place.doubt {
  font-weight: 650;
  box-shadow: inset 0 -3px 0 0 var(--tb-caution);
}
.said {
  display: inline-flex;
  gap: 4px;
  font-weight: 400;
}
.their-cell {
  outline: 2px solid var(--tb-ink);
  outline-offset: -2px;
}
.cell-dash,
.cell-longdash {
  outline-style: dashed;
}
.cell-dot {
  outline-style: dotted;
}
.cell-double {
  outline: 4px double var(--tb-ink);
  outline-offset: -4px;
}
.cell-thick {
  outline-width: 3px;
}
.their-name {
  font: 560 var(--tb-tiny) / 1 var(--bs-font-sans-serif);
  margin-right: auto;
}
</style>
