<script setup lang="ts">
import { computed } from 'vue'
import Menu from '../../Menu.vue'
import type { Call } from '../call'
import CallStrip from '../CallStrip.vue'
import { useVoice } from '../voice'
import Beside from './Beside.vue'
import { cellAt } from './book'
import CellLine from './CellLine.vue'
import Doubt from './Doubt.vue'
import { lettersOf } from './formula'
import type { Grid, TableRoom } from './room'
import type { Table } from './table'
import TableGrid from './TableGrid.vue'

/** A table with what stands around it: the chosen cell as a sentence, what is in doubt, what the numbers say, rows and sheets. */
const props = defineProps<{
  table: Table
  room: TableRoom
  call: Call
  /** What it is called, and its file. */
  label: string
  file: string
  nameOf: (by: string) => string
  /** Which cells are talked about, by thread, and the numbers of the threads. */
  signs?: Map<string, string>
  numbers?: Map<string, number>
}>()
const emit = defineEmits<{ thread: [id: string] }>()
const voice = useVoice()
const { t } = voice
const { grid, n, sheet, shown, edited, read, heading, lens, rows, by, looksOtherwise, chosen, here, typing, acts, show, doubts } =
  props.room
const { penOf, others, counted, number, plain, rowActs, columnActs } = props.room
const doubt = computed(() => doubts.value[0])
const none = new Map<string, never>()
const stays = computed(() => {
  const what = props.table.stays.value.map((s) => t(`writing.grid.stays.${s}`))
  if (what.length) return t('writing.grid.kept', { what: voice.list(what) })
  return t(/\.(csv|tsv)$/i.test(props.file) ? 'writing.grid.asValues' : 'writing.grid.asSheet')
})
</script>

<template>
  <div v-if="sheet" class="table-room">
    <div class="lines">
      <CallStrip :call="call" :list="voice.list" />
      <slot name="lines"></slot>
      <CellLine
        v-model:typing="typing"
        :cell="lettersOf(here.c) + (here.r + 1)"
        :column="heading(here.c)"
        :row="here.r + 1"
        :text="edited(here.r, here.c)"
        :shown="shown(here.r, here.c)"
        :format="cellAt(sheet, here.r, here.c).f ?? ''"
        :writes="table.writes.value"
        :headings="heading"
        @begin="typing ??= edited(here.r, here.c)"
        @done="grid?.finish(1, 0)"
        @discard="grid?.discard()"
        @format="acts.format"
        @fill="acts.fill"
      />
      <Doubt
        v-if="doubt"
        :sheet="sheet"
        :at="doubt"
        :more="doubts.length - 1"
        :column="heading(doubt.c)"
        :decides="table.writes.value"
        :me="table.me"
        :name-of="nameOf"
        :read="read"
        @take="acts.set([{ ...doubt, t: $event }])"
        @show="show({ sheet: n, row: doubt.r, column: doubt.c })"
      />
    </div>
    <div class="desk" :class="{ talks: !!$slots.talk }">
      <slot name="talk"></slot>
      <TableGrid
        :ref="(g) => (grid = g as unknown as Grid)"
        v-model:chosen="chosen"
        v-model:typing="typing"
        :sheet="sheet"
        :n="n"
        :rows="rows"
        :shown="shown"
        :edited="edited"
        :read="read"
        :writes="table.writes.value"
        :lens="lens"
        :others="others"
        :pen-of="penOf"
        :signs="signs ?? none"
        :numbers="numbers ?? none"
        :label="label"
        :tick="table.changes.value"
        @write="acts.write"
        @clear="acts.clear"
        @undo="table.undo"
        @redo="table.redo"
        @fill="acts.fill"
        @copy="acts.copy"
        @paste="acts.paste"
        @by="by"
        @thread="emit('thread', $event)"
      />
      <Beside
        :book="table.book.value"
        :n="n"
        :chosen="counted"
        :changed="table.changed.value"
        :pen-of="penOf"
        :read="read"
        :number="number"
        @show="show"
      />
    </div>
    <div class="table-foot">
      <template v-if="table.writes.value">
        <Menu :label="t('writing.grid.rows')" :entries="rowActs" button="btn btn-text btn-small" up>{{ t('writing.grid.rows') }}</Menu>
        <Menu :label="t('writing.grid.columns')" :entries="columnActs" button="btn btn-text btn-small" up>
          {{ t('writing.grid.columns') }}
        </Menu>
      </template>
      <label class="small only">
        {{ t('writing.grid.onlyWith', { column: heading(here.c) }) }}
        <input
          class="form-control form-control-sm"
          :value="lens.only[here.c] ?? ''"
          data-only
          @change="lens = { ...lens, only: { ...lens.only, [here.c]: ($event.target as HTMLInputElement).value } }"
        />
      </label>
      <p class="small" role="status">
        {{ t('writing.grid.seen', { n: plain(rows.length), all: plain(Math.max(0, sheet.rows.length - sheet.head)) }) }}
        <template v-if="lens.by !== undefined">
          {{ t(lens.down ? 'writing.grid.downBy' : 'writing.grid.upBy', { column: heading(lens.by) }) }}
        </template>
        <button v-if="looksOtherwise" type="button" class="btn btn-text btn-small" @click="lens = { only: {} }">
          {{ t('writing.grid.asItIs') }}
        </button>
      </p>
      <nav v-if="table.book.value.length > 1" class="sheets" :aria-label="t('writing.grid.sheets')">
        <button
          v-for="(s, i) in table.book.value"
          :key="i"
          type="button"
          :aria-current="i === n"
          @click="((n = i), (lens = { only: {} }), (chosen = { anchor: { v: 0, c: 0 }, head: { v: 0, c: 0 } }))"
        >
          {{ s.name }}
        </button>
      </nav>
      <p class="small quiet stays">{{ stays }}</p>
    </div>
  </div>
</template>

<style scoped>
.table-room {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-height: 0;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  min-height: 0;
}
.desk.talks {
  grid-template-columns: 300px minmax(0, 1fr) 280px;
}
.table-foot {
  display: flex;
  align-items: center;
  gap: 4px var(--tb-s4);
  flex-wrap: wrap;
  background: var(--tb-sheet);
  border-top: 1px solid var(--tb-rule);
  padding: 6px 24px 6px 12px;
}
.table-foot p {
  margin: 0;
}
.only {
  display: flex;
  align-items: center;
  gap: 6px;
}
.only input {
  width: 110px;
}
.stays {
  margin-left: auto !important;
}
.sheets {
  display: flex;
  gap: 4px;
}
.sheets button {
  padding: 2px 10px;
  min-height: 28px;
  border-bottom: 2px solid transparent;
  font-size: var(--tb-text);
}
.sheets button[aria-current='true'] {
  border-bottom-color: var(--tb-ink);
  font-weight: 650;
}
@media (max-width: 900px) {
  .desk,
  .desk.talks {
    grid-template-columns: minmax(0, 1fr);
  }
  .desk.talks {
    grid-template-rows: minmax(0, 1fr) minmax(0, 1fr);
  }
  .table-foot {
    padding: 6px 12px;
  }
  .stays {
    display: none;
  }
}
</style>
