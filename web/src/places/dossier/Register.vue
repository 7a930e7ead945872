<script setup lang="ts">
import { useRegister, type RegisterGroup, type RegisterOnly, type RegisterOrder } from '../../queries/dossiers'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useElementSize, useEventListener, useMediaQuery, useResizeObserver } from '@vueuse/core'
import { computed, nextTick, ref, watch, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { drag } from './dragged'
import { useChoosing } from './choosing'
import FolderRows from './FolderRows.vue'
import RegisterHead from './RegisterHead.vue'
import RegisterTogether from './RegisterTogether.vue'
import RegisterRow from './RegisterRow.vue'
import RegisterColumns from './RegisterColumns.vue'
import RegisterOnlyWord from './RegisterOnly.vue'
import RegisterPictures from './RegisterPictures.vue'
import { useArrangement } from './arrangement'
import { useColumnWords } from './columnwords'
import { useLines } from './lines'
import TakeFromTable from '../particulars/TakeFromTable.vue'
import { useMenuAt } from '../../parts/menuat'
import { thingOfFolder, thingOfRow, type Thing } from './things'

/** A folder's documents to read and compare. Only the rows in sight are in the page, however long it is. */
const props = defineProps<{
  code: string
  folder: string
  shown?: string
  chosen: Thing[]
  slim: boolean
  only: RegisterOnly
  kept?: Schemas['Arrangement']
  mayAdd: boolean
  mayMove: boolean
  /** A folder that is being renamed. */
  naming?: string
  as?: string
  compare?: boolean
  /** Those within it, and all of the dossier. */
  folders: Schemas['Folder'][]
  all: Schemas['Folder'][]
}>()
const emit = defineEmits<{
  show: [id?: string]
  choose: [things: Thing[]]
  page: [page: Schemas['RegisterPage']]
  add: []
  open: [id: string]
  menu: [thing: Thing, x: number, y: number]
  named: []
  row: [top?: number]
  only: [only: RegisterOnly]
}>()
const { t } = useI18n()
const narrow = useMediaQuery('(max-width: 900px)')
const {
  defined,
  order,
  group,
  pictures,
  chosen: chosenColumns,
  columns,
} = useArrangement(
  () => ({ id: props.folder, code: props.code, kept: props.kept }),
  () => props.slim || narrow.value,
  () => !!props.as,
)
const columnWords = useColumnWords()
const taking = ref(false)
const orders = ['event', 'number', 'name', 'size', 'version', 'kind'] as const
/** What is offered as an order: those of the register, of the particulars in sight, and the one it is in. */
const orderWords = computed(() => {
  const particulars = (defined.value ?? []).filter((p) => chosenColumns.value.includes(p.id))
  const all = [...orders, ...particulars.map((p) => `by ${p.id}` as const)].flatMap((o): RegisterOrder[] => [
    o,
    `${o} down` as RegisterOrder,
  ])
  if (!all.includes(order.value)) all.push(order.value)
  return all.map((o) => ({ value: o, words: columnWords.order(o, defined.value ?? []) }))
})
const groupWords = computed(() =>
  (['', 'kind', 'person', ...(defined.value ?? []).map((p) => `by ${p.id}`)] as RegisterGroup[]).map((g) => ({
    value: g,
    words: columnWords.group(g, defined.value ?? []),
  })),
)
const only = computed({ get: () => props.only, set: (o) => emit('only', o) })
const narrowed = computed(() => Object.values(props.only).some(Boolean))
const shapeWords = computed(() => [
  { value: false, words: t('dossier.shape.rows') },
  { value: true, words: t('dossier.shape.pictures') },
])

const {
  data: pages,
  error,
  fetchNextPage,
  hasNextPage,
  isFetchingNextPage,
  refetch,
} = useRegister(() => ({
  code: props.code,
  folder: props.folder,
  order: order.value,
  group: group.value,
  only: props.only,
  as: props.as,
  compare: props.compare,
}))
const rows = computed(() => pages.value?.pages.flatMap((p) => p.rows) ?? [])
watch(
  () => pages.value?.pages[0],
  (p) => p && emit('page', p),
  { immediate: true },
)

/** A row that goes elsewhere in the order takes its focus along: a browser takes it away from what is put elsewhere. */
watch(
  rows,
  async () => {
    const row = document.activeElement?.closest<HTMLElement>('[data-thing][data-index]')
    await nextTick()
    if (row?.isConnected && document.activeElement === document.body) row.focus({ preventScroll: true })
  },
  { flush: 'pre' },
)

const pane = ref<HTMLElement>()
const { width } = useElementSize(pane)
const { lines, lineOf, heightOf } = useLines(rows, {
  groups: () => pages.value?.pages[0]?.groups ?? [],
  grouped: () => !!group.value,
  words: (row) => columnWords.together(row, group.value, defined.value ?? []),
  across: () => (pictures.value ? Math.max(1, Math.floor((width.value - 32) / 176)) : 1),
  // In CSS pixels, as the styles make it; on a narrow page a row has two lines of its own.
  height: () => (pictures.value ? 196 : narrow.value ? 56 : 38),
})
/** What is narrowed down shows documents alone. */
const within = computed(() => (narrowed.value ? [] : props.folders))
const ahead = computed(() => within.value.length * (narrow.value ? 44 : 38))
const virtual = useVirtualizer(
  computed(() => ({
    count: lines.value.length,
    getScrollElement: () => pane.value ?? null,
    estimateSize: (i: number) => heightOf(i),
    getItemKey: (i: number) => lines.value[i]?.key ?? i,
    overscan: pictures.value ? 3 : 12,
    // The folders stand before the documents and go along with them.
    scrollMargin: ahead.value,
  })),
)
watch([lines, () => heightOf(0)], () => virtual.value.measure())
const seen = computed(() => virtual.value.getVirtualItems())
const visible = computed(() => seen.value.flatMap((v) => lines.value[v.index] ?? []))
const before = computed(() => (seen.value[0]?.start ?? ahead.value) - ahead.value)
const after = computed(() => virtual.value.getTotalSize() - ((seen.value.at(-1)?.end ?? ahead.value) - ahead.value))
watchEffect(() => {
  const last = seen.value.at(-1)
  if (last && last.index >= lines.value.length - 40 && hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage()
})
const scrollTo = (row: number) => virtual.value.scrollToIndex(lineOf(row))

const things = computed(() => [...within.value.map(thingOfFolder), ...rows.value.map(thingOfRow)])
const { isChosen, toggle, begin } = useChoosing(
  things,
  () => props.chosen,
  (all) => emit('choose', all),
)
/** Chooses everything that stands here; what is not in the page yet is read first. */
async function chooseAll() {
  let more = hasNextPage.value
  while (more) {
    const { hasNextPage, isError } = await fetchNextPage()
    more = hasNextPage && !isError
  }
  if (!hasNextPage.value) emit('choose', things.value)
}
const at = ref(-1)
/** What goes along with a row that is dragged: all that is chosen with it. */
function idsWith(index: number): string[] {
  const { id } = rows.value[index]!
  return isChosen(id) ? props.chosen.map((c) => c.id) : [id]
}
/** Nothing but the documents of a group. */
function narrowTo(index: number) {
  const row = rows.value[index]!
  if (group.value === 'kind') only.value = { ...props.only, kind: row.kind }
  else if (group.value === 'person') only.value = { ...props.only, person: row.byId }
  else {
    const where = group.value.slice(3)
    only.value = { ...props.only, where, value: row.particulars?.find((p) => p.particular.id === where)?.value ?? '' }
  }
}

function click(index: number, e: MouseEvent) {
  at.value = index
  const id = rows.value[index]?.id
  if (e.shiftKey || e.ctrlKey || e.metaKey) return toggle(id, e.shiftKey)
  begin(id)
  emit('show', id)
}

useMenuAt(pane, '[data-thing]', (row, x, y) => {
  const thing = things.value.find((o) => o.id === row.dataset.thing)
  if (thing && !props.as) emit('menu', thing, x, y)
})

/** The documents that stand beside one in this order. */
function beside(id: string) {
  const i = rows.value.findIndex((r) => r.id === id)
  return { before: rows.value[i - 1]?.id, after: i < 0 ? undefined : rows.value[i + 1]?.id }
}
/** A row as a thing that something is done with. */
const thing = (id: string) => things.value.filter((o) => o.id === id)
defineExpose({ beside, thing, chooseAll })

function move(to: number) {
  at.value = Math.max(0, Math.min(to, rows.value.length - 1))
  scrollTo(at.value)
  emit('show', rows.value[at.value]?.id)
  requestAnimationFrame(() => pane.value?.querySelector<HTMLElement>(`[data-thing][data-index="${at.value}"]`)?.focus())
}

function key(e: KeyboardEvent, index: number) {
  const across = pictures.value ? (visible.value.find((l) => l.rows?.includes(index))?.across ?? 1) : 1
  const target = (
    {
      ArrowDown: index + across,
      ArrowUp: index - across,
      ...(pictures.value ? { ArrowRight: index + 1, ArrowLeft: index - 1 } : {}),
      Home: 0,
      End: rows.value.length - 1,
      PageDown: index + 15,
      PageUp: index - 15,
    } as Record<string, number>
  )[e.key]
  if (target !== undefined) {
    e.preventDefault()
    move(target)
  } else if (e.key === ' ') {
    e.preventDefault()
    toggle(rows.value[index].id, e.shiftKey)
  } else if (e.key === 'Enter') emit('open', rows.value[index].id)
}

function tellRow() {
  const row = pane.value?.querySelector<HTMLElement>('tr.shown')
  const frame = pane.value?.closest('.frame')
  if (!row || !frame || !pane.value) return emit('row')
  const [box, within, outer] = [row.getBoundingClientRect(), pane.value.getBoundingClientRect(), frame.getBoundingClientRect()]
  emit('row', box.top < within.top + 20 || box.bottom > within.bottom ? undefined : box.top - outer.top)
}
useEventListener(pane, 'scroll', tellRow)
useResizeObserver(pane, tellRow)
watch([() => props.shown, visible, () => props.slim], () => void nextTick(tellRow), { flush: 'post' })

/** The chosen rows stay in sight when something docks below them. */
watch(
  () => [props.shown, rows.value.length],
  () => {
    const i = rows.value.findIndex((r) => r.id === props.shown)
    if (i >= 0 && i !== at.value) {
      at.value = i
      requestAnimationFrame(() => scrollTo(i))
    }
  },
)
</script>

<template>
  <div class="showing">
    <slot name="chosen">
      <span>
        {{ t('dossier.showing') }}
        <RegisterOnlyWord v-if="!as" v-model="only" :defined="defined ?? []" />
        <template v-else>{{ t('dossier.only.everything') }},</template>
        {{ ' ' }}
        <SentenceSelect v-model="order" :label="t('dossier.orderLabel')" :options="orderWords" :then="narrow ? undefined : ','" />
        <template v-if="!narrow">
          {{ ' ' }}
          <SentenceSelect v-model="group" :label="t('dossier.group.label')" :options="groupWords" then="," />
          {{ ' ' }}
          <SentenceSelect v-model="pictures" :label="t('dossier.shape.label')" :options="shapeWords" />
          {{ ' ' }}
          <RegisterColumns v-if="!pictures" v-model="chosenColumns" :defined="defined ?? []" :may-take="mayMove" @take="taking = true" />
        </template>
        {{ ' ' }}
        <a
          v-if="rows.length && !as"
          class="go small as-table"
          :href="`/api/folders/${folder}/register.csv`"
          :title="t('dossier.asTable')"
          download
        >
          CSV
        </a>
      </span>
    </slot>
  </div>
  <TakeFromTable v-if="taking && defined" :code="code" :defined="defined" @done="taking = false" />
  <Failed v-if="error && !pages" :error="error" @again="refetch()" />
  <div v-else-if="pages && !rows.length && narrowed" class="empty">
    <h2>{{ t('dossier.only.none') }}</h2>
    <button type="button" class="btn btn-outline-primary" @click="only = {}">{{ t('dossier.only.all') }}</button>
  </div>
  <div v-else-if="pages && !rows.length && !folders.length" class="empty">
    <h2>{{ t('dossier.emptyTitle') }}</h2>
    <p>{{ mayAdd ? t('dossier.empty') : t('dossier.emptyView') }}</p>
    <button v-if="mayAdd" type="button" class="btn btn-primary" @click="$emit('add')">{{ t('dossier.addFiles') }}</button>
  </div>
  <div v-else ref="pane" class="pane">
    <FolderRows
      v-if="within.length"
      :code="code"
      :folders="within"
      :all="all"
      :chosen="chosen.map((c) => c.id)"
      :naming="naming"
      :still="!!as"
      @toggle="toggle"
      @named="$emit('named')"
    />
    <p v-if="pages && !rows.length" class="none quiet small">
      {{ t('dossier.onlyFolders') }}
      <button v-if="mayAdd" type="button" class="go" @click="$emit('add')">{{ t('dossier.addFiles') }}</button>
    </p>
    <RegisterPictures
      v-else-if="pictures"
      :lines="visible"
      :rows="rows"
      :before="before"
      :after="after"
      :shown="shown"
      :is-chosen="isChosen"
      :at="Math.max(at, 0)"
      :draggable="mayMove && !narrow"
      @toggle="toggle"
      @taken="(i, e) => drag(e, idsWith(i))"
      @press="click"
      @open="$emit('open', $event)"
      @key="(i, e) => key(e, i)"
      @narrow="narrowTo"
    />
    <table
      v-else
      class="register toned"
      role="grid"
      :aria-label="t('dossier.columns.name')"
      :class="{ slim }"
      :aria-rowcount="pages?.pages[0]?.total"
      aria-multiselectable="true"
    >
      <RegisterHead v-model:order="order" :columns="columns" />
      <tbody>
        <tr v-if="before" aria-hidden="true" class="spacer">
          <td :colspan="4 + columns.length" :style="{ height: `${before}px` }"></td>
        </tr>
        <template v-for="l in visible" :key="l.key">
          <tr v-if="l.head" class="head">
            <th :colspan="4 + columns.length" scope="rowgroup"><RegisterTogether :head="l.head" @narrow="narrowTo" /></th>
          </tr>
          <RegisterRow
            v-else
            :row="rows[l.rows[0]!]!"
            :columns="columns"
            :slim="slim"
            :narrow="narrow"
            :chosen="isChosen(rows[l.rows[0]!]!.id)"
            :shown="rows[l.rows[0]!]!.id === shown"
            :data-index="l.rows[0]"
            :data-thing="rows[l.rows[0]!]!.id"
            :aria-rowindex="l.rows[0]! + 2"
            :tabindex="l.rows[0] === Math.max(at, 0) ? 0 : -1"
            :draggable="mayMove && !narrow"
            @toggle="toggle(rows[l.rows[0]!]!.id, $event)"
            @dragstart="drag($event, idsWith(l.rows[0]!))"
            @click="click(l.rows[0]!, $event)"
            @dblclick="$emit('open', rows[l.rows[0]!]!.id)"
            @keydown="key($event, l.rows[0]!)"
          />
        </template>
        <tr v-if="after > 0" aria-hidden="true" class="spacer">
          <td :colspan="4 + columns.length" :style="{ height: `${after}px` }"></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.as-table {
  display: inline-block;
  min-width: 24px;
  min-height: 24px;
  line-height: 24px;
  text-align: center;
}
.pane {
  overflow: auto;
  min-height: 0;
  flex: 1;
}
/* What a sheet docks under can be scrolled above it. */
:global(.frame:has(.desk-sheet) .pane) {
  padding-bottom: 60vh;
  scroll-padding-top: 34px;
}
.none {
  padding: var(--tb-s3) 20px;
}
.head th {
  height: 30px;
  padding: 6px 20px 0;
  border-bottom: 1px solid var(--tb-rule);
  text-align: left;
}
.register .spacer td {
  padding: 0;
  border: 0;
  height: 0;
}
.showing :deep(a),
.showing :deep(button:not(.w)) {
  color: var(--tb-action);
  white-space: nowrap;
}
@media (max-width: 900px) {
  .pane {
    max-height: calc(100dvh - 108px);
  }
  .spacer,
  .spacer td,
  .register,
  .register tbody {
    display: block;
  }
}
</style>
