<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, shallowRef, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import Failed from '../../../app/Failed.vue'
import { tell } from '../../../app/toasts'
import Menu from '../../../parts/Menu.vue'
import { useRemarks } from '../../../queries/remarks'
import { useSaid } from '../../../sentences/said'
import { usePlaceWords } from '../../remarks/acts'
import Remarks from '../../remarks/Remarks.vue'
import Growing from '../Growing.vue'
import Lost from '../Lost.vue'
import { useCall } from '../../../parts/writing/call'
import CallStrip from '../../../parts/writing/CallStrip.vue'
import CallVerb from '../../../parts/writing/CallVerb.vue'
import { pensBeside } from '../../../parts/writing/pens'
import Door from '../../../parts/Door.vue'
import PensHere from '../../../parts/writing/PensHere.vue'
import { useSitting } from '../sitting'
import WrittenTop from '../WrittenTop.vue'
import { doubtsIn, useActs } from './acts'
import Beside from './Beside.vue'
import { cellAt } from './book'
import CellLine from './CellLine.vue'
import Doubt from './Doubt.vue'
import { lettersOf } from './formula'
import { headingOf, rowsThrough, type Lens } from './lens'
import { reader, type Shown } from './shown'
import { useVoiceHere } from '../voice'
import { useTable } from './table'
import TableGrid from './TableGrid.vue'
import { shownNumber } from './values'

/** A table is written, by several at once: who is here, its cells, what is in doubt, what was changed. */
const props = defineProps<{ document: string }>()
const { t, locale } = useI18n()
useVoiceHere()
const said = useSaid()
const table = useTable(props.document, useRoute().query.supersede === 'approved' ? { Supersede: 'approved' } : {})
const { doc, place, title, newest, state, caution, asksToSupersede, heard, nameOf } = useSitting(props.document, table)
const call = useCall(table)
const grid = useTemplateRef<InstanceType<typeof TableGrid>>('grid')
onMounted(() => void table.open())

const n = ref(0)
const sheet = computed(() => table.book.value[n.value])
const decimal = computed(() => table.manner.value?.decimal || '.')
const language = computed(() => (locale.value === 'en' ? 'en-GB' : 'de-DE'))
const reads = computed(() => reader(decimal.value, language.value))
const shown = (r: number, c: number) => reads.value.shown(cellAt(sheet.value, r, c), table.resultAt(n.value, r, c))
const edited = (r: number, c: number) => reads.value.edited(cellAt(sheet.value, r, c))
const read = (text: string) => (text.startsWith('=') ? text : reads.value.shown({ t: text }, undefined).text)
const heading = (c: number) => headingOf(table.book.value, n.value, c, lettersOf(c))

/** How I look at it; others see it their own way. Rows stay where they are while one writes. */
const lens = ref<Lens>({ only: {} })
const rows = ref<number[]>([])
const looked = () => (rows.value = sheet.value ? rowsThrough(sheet.value, lens.value, shown, language.value) : [])
watch([n, lens, () => sheet.value?.rows.length, () => sheet.value?.head], looked, { deep: true })
function by(c: number) {
  const { by, down } = lens.value
  lens.value = by !== c ? { ...lens.value, by: c, down: false } : down ? { only: lens.value.only } : { ...lens.value, down: true }
}
const looksOtherwise = computed(() => lens.value.by !== undefined || Object.values(lens.value.only).some(Boolean))

const chosen = ref({ anchor: { v: 0, c: 0 }, head: { v: 0, c: 0 } })
const rowAt = (v: number) => {
  const head = sheet.value?.head ?? 0
  return v < head ? v : (rows.value[v - head] ?? sheet.value?.rows.length ?? 0)
}
const seenAt = (r: number) => {
  const head = sheet.value?.head ?? 0
  return r < head ? r : head + Math.max(0, rows.value.indexOf(r))
}
const box = computed(() => {
  const { anchor: a, head: h } = chosen.value
  return { top: Math.min(a.v, h.v), bottom: Math.max(a.v, h.v), left: Math.min(a.c, h.c), right: Math.max(a.c, h.c) }
})
const here = computed(() => ({ r: rowAt(chosen.value.head.v), c: chosen.value.head.c }))
watch([chosen, n], () =>
  table.move({
    sheet: n.value,
    anchor: { r: rowAt(chosen.value.anchor.v), c: chosen.value.anchor.c },
    head: { r: here.value.r, c: here.value.c },
  }),
)
/** One begins below the headings. */
watch(sheet, (s, before) => {
  if (s && !before && s.rows.length > s.head) chosen.value = { anchor: { v: s.head, c: 0 }, head: { v: s.head, c: 0 } }
})
const typing = ref<string>()
const acts = useActs(table, n, rowAt, box, reads, decimal, language, (why) => tell(t(`writing.grid.refused.${why}`)))
watch(table.changes, () => void table.askChanged())

async function show(to: { sheet: number; row: number; column: number }) {
  n.value = to.sheet
  if (to.row >= (sheet.value?.head ?? 0) && !rows.value.includes(to.row)) lens.value = { only: {} }
  await nextTick()
  grid.value?.go(seenAt(to.row), to.column)
  grid.value?.focus()
}

const doubts = computed(() => doubtsIn(table.book.value, n.value))
const doubt = computed(() => doubts.value[0])
/** What is said beside the table, and of the chosen cell; cells of which something is said have a number. */
const talking = ref(false)
const placeWords = usePlaceWords()
const cellPlace = computed(() => {
  const words = shown(here.value.r, here.value.c).text
  return talking.value && words
    ? { kind: 'cell' as const, sheet: sheet.value?.name ?? '', row: here.value.r + 1, column: here.value.c + 1, words }
    : undefined
})
const { data: remarked } = useRemarks(() => props.document, ref('open'))
const talked = computed(() =>
  (remarked.value?.pages ?? [])
    .flatMap((p) => p.threads)
    .flatMap((th) => (th.place?.kind === 'cell' && (th.place.sheet ?? '') === sheet.value?.name ? [{ id: th.id, place: th.place }] : []))
    .sort((a, b) => (a.place.row ?? 0) - (b.place.row ?? 0) || (a.place.column ?? 0) - (b.place.column ?? 0)),
)
const numbers = computed(() => new Map(talked.value.map((th, i) => [th.id, i + 1])))
const signs = computed(() => new Map(talked.value.map((th) => [`${(th.place.row ?? 0) - 1}/${(th.place.column ?? 0) - 1}`, th.id])))
const thread = ref<string>()
function pickThread(id: string) {
  thread.value = id
  const at = talked.value.find((th) => th.id === id)?.place
  if (at) void show({ sheet: n.value, row: (at.row ?? 1) - 1, column: (at.column ?? 1) - 1 })
}
const pens = computed(() =>
  pensBeside(
    table.pens.value,
    Object.entries(table.names.value).map(([id, name]) => ({ id, name })),
  ),
)
const penOf = (by: string) => pens.value.find((p) => p.person === by) ?? { letter: '?', name: nameOf(by) }
const others = computed(() =>
  table.pens.value.flatMap((pen) => {
    const at = pen.person === table.me ? undefined : table.carets.value.get(pen.page)
    return at ? [{ pen, at }] : []
  }),
)
/** Whoever is followed is where one looks, until one does something oneself. */
const following = ref<string>()
const followed = computed(() => others.value.find((o) => o.pen.person === following.value)?.at)
watch(followed, async (at) => {
  if (!at) return
  n.value = at.sheet
  await nextTick()
  grid.value?.reveal(seenAt(at.head.r), at.head.c)
})
watch(typing, (typed) => typed !== undefined && (following.value = undefined))
/** Where each of them is: in which row, at which heading. */
const whereabouts = computed(() => {
  const all: Record<string, string> = {}
  for (const { pen, at } of others.value)
    all[pen.person] = t('writing.grid.rowAt', {
      row: at.head.r + 1,
      column: headingOf(table.book.value, at.sheet, at.head.c, lettersOf(at.head.c)),
    })
  all[table.me] = t('writing.grid.rowAt', { row: here.value.r + 1, column: heading(here.value.c) })
  return all
})
/** The chosen cells for what is said of them, as far as that many can be counted. */
const mostCounted = 50_000
const counted = shallowRef<{ r: number; c: number; shown: Shown }[]>([])
function count() {
  const { top, bottom, left, right } = box.value
  // One cell says little: it is its column that counts.
  const one = top === bottom && left === right
  const views = one ? rows.value : Array.from({ length: bottom - top + 1 }, (_, i) => rowAt(top + i))
  const all = []
  for (const r of views) for (let c = left; c <= right && all.length < mostCounted; c++) all.push({ r, c, shown: shown(r, c) })
  counted.value = all
}
watchDebounced([box, rows, table.changes, table.reckoned], count, { debounce: 120, maxWait: 600 })
const number = (x: number) => {
  const { r, c } = counted.value[0] ?? here.value
  return shownNumber(x, cellAt(sheet.value, r, c).f ?? '', language.value)
}
const plain = (x: number) => x.toLocaleString(language.value)
const chosenRows = computed(() => box.value.bottom - box.value.top + 1)
const chosenColumns = computed(() => box.value.right - box.value.left + 1)
const rowActs = computed(() => [
  { label: t('writing.grid.rowAbove', { n: said.count(chosenRows.value) }, chosenRows.value), do: () => acts.add('rows', false) },
  { label: t('writing.grid.rowBelow', { n: said.count(chosenRows.value) }, chosenRows.value), do: () => acts.add('rows', true) },
  { label: t('writing.grid.rowAway', { n: said.count(chosenRows.value) }, chosenRows.value), do: () => acts.drop('rows') },
])
const columnActs = computed(() => [
  {
    label: t('writing.grid.columnBefore', { n: said.count(chosenColumns.value) }, chosenColumns.value),
    do: () => acts.add('columns', false),
  },
  {
    label: t('writing.grid.columnAfter', { n: said.count(chosenColumns.value) }, chosenColumns.value),
    do: () => acts.add('columns', true),
  },
  { label: t('writing.grid.columnAway', { n: said.count(chosenColumns.value) }, chosenColumns.value), do: () => acts.drop('columns') },
])
const stays = computed(() => {
  const file = place.value?.name.toLowerCase() ?? ''
  const what = table.stays.value.map((s) => t(`writing.grid.stays.${s}`))
  if (what.length) return t('writing.grid.kept', { what: said.list(what) })
  return t(/\.(csv|tsv)$/.test(file) ? 'writing.grid.asValues' : 'writing.grid.asSheet')
})
</script>

<template>
  <main id="content" class="table-page">
    <Failed v-if="table.failed.value" :error="table.failed.value" @again="table.open()" />
    <WrittenTop
      :document="document"
      :place="place"
      :title="title"
      :state="state"
      :caution="caution"
      :supersede="asksToSupersede"
      :writes="table.mode.value === 'write'"
      @kept="table.kept.value = $event"
    >
      <button
        v-if="place"
        type="button"
        class="btn btn-plain btn-small"
        :aria-expanded="talking"
        aria-controls="talk-beside"
        @click="talking = !talking"
      >
        {{ t('writing.talk') }}
      </button>
    </WrittenTop>
    <section v-show="place" class="here" :aria-label="t('writing.whoIsHere')">
      <PensHere v-model:following="following" :pens="table.pens.value" :me="table.me" :places="whereabouts">
        <template #guest><Door state="ajar" :count="1" /></template>
      </PensHere>
      <CallVerb class="call-verb" :call="call" />
      <Growing v-if="doc" :document="doc" :newest="newest" :grows="table.mode.value !== 'look'" />
    </section>
    <p v-if="!place && !table.failed.value" class="quiet loading">{{ t('common.loading') }}</p>
    <template v-if="sheet && place">
      <div class="lines">
        <CallStrip :call="call" :list="said.list" />
        <Lost v-model="table.lost.value" />
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
      <div class="desk" :class="{ talks: talking }">
        <aside v-if="talking" id="talk-beside" class="talk-beside" :aria-label="t('writing.talk')">
          <Remarks
            :item="document"
            :place="cellPlace"
            :version="cellPlace && newest"
            :numbers="numbers"
            :picked="thread"
            @pick="pickThread"
          >
            <p v-if="cellPlace" class="small">{{ placeWords(cellPlace) }}</p>
          </Remarks>
        </aside>
        <TableGrid
          ref="grid"
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
          :signs="signs"
          :numbers="numbers"
          :label="title"
          :tick="table.changes.value"
          @write="acts.write"
          @clear="acts.clear"
          @undo="table.undo"
          @redo="table.redo"
          @fill="acts.fill"
          @copy="acts.copy"
          @paste="acts.paste"
          @by="by"
          @thread="((thread = $event), (talking = true))"
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
    </template>
    <p class="visually-hidden" aria-live="polite">{{ heard }}</p>
  </main>
</template>

<style scoped>
.table-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto auto minmax(0, 1fr) auto;
  height: calc(100dvh - 52px);
}
.here {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--tb-s4);
  background: var(--tb-sheet);
  border-top: 1px solid var(--tb-line);
  border-bottom: 1px solid var(--tb-rule);
  padding: 8px 24px;
  min-height: 56px;
}
.call-verb {
  margin-left: auto;
}
.loading {
  padding: 24px;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 320px;
  min-height: 0;
}
.desk.talks {
  grid-template-columns: 300px minmax(0, 1fr) 280px;
}
.talk-beside {
  overflow: auto;
  padding: 12px 20px;
  background: var(--tb-sheet);
  border-right: 1px solid var(--tb-rule);
  min-height: 0;
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
  .table-page {
    height: calc(100dvh - 52px - 56px);
  }
  .here {
    padding: 6px 16px;
    min-height: 0;
  }
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
<style src="../../../parts/writing/writing.css"></style>
