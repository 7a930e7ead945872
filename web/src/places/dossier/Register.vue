<script setup lang="ts">
import { useRegister, type RegisterOrder } from '../../queries/dossiers'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useEventListener, useMediaQuery, useResizeObserver } from '@vueuse/core'
import { computed, nextTick, ref, watch, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { isNumber, type Particular } from '../../queries/particulars'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { drag } from './dragged'
import { useChoosing } from './choosing'
import FolderRows from './FolderRows.vue'
import RegisterHead from './RegisterHead.vue'
import RegisterRow from './RegisterRow.vue'
import RegisterColumns from './RegisterColumns.vue'
import { useColumns } from './columns'
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
}>()
const { t } = useI18n()
const narrow = useMediaQuery('(max-width: 900px)')
const orders: RegisterOrder[] = ['event', 'number', 'name', 'size']
const order = ref<RegisterOrder>((localStorage.getItem('order') as RegisterOrder | null) ?? 'event')
watch(order, (o) => localStorage.setItem('order', o))
const { defined, chosenColumns, columns } = useColumns(
  () => props.folder,
  () => props.slim || narrow.value,
)
const taking = ref(false)
const mayColumns = computed(() => !!defined.value?.length && !narrow.value && rows.value.length > 0)
const wayOf = (p: Particular) => (isNumber(p) ? 'number' : p.kind === 'date' ? 'date' : 'word')
const orderWords = computed(() => [
  ...orders.map((o) => ({ value: o, words: t(`dossier.order.${o}`) })),
  ...(defined.value ?? [])
    .filter((p) => columns.value.includes(p) || order.value.startsWith(`by ${p.id}`))
    .flatMap((p) => [
      { value: `by ${p.id}` as RegisterOrder, words: t(`particulars.up.${wayOf(p)}`, { name: p.name }) },
      { value: `by ${p.id} down` as RegisterOrder, words: t(`particulars.down.${wayOf(p)}`, { name: p.name }) },
    ]),
])
/** An order by what is no longer defined is none. */
watch(
  defined,
  (all) => {
    if (all && order.value.startsWith('by ') && !all.some((p) => order.value.startsWith(`by ${p.id}`))) order.value = 'event'
  },
  { immediate: true },
)

const {
  data: pages,
  error,
  fetchNextPage,
  hasNextPage,
  isFetchingNextPage,
  refetch,
} = useRegister(() => ({ code: props.code, folder: props.folder, order: order.value, as: props.as, compare: props.compare }))
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
    const row = document.activeElement?.closest<HTMLElement>('tr[data-thing]')
    await nextTick()
    if (row?.isConnected && document.activeElement === document.body) row.focus({ preventScroll: true })
  },
  { flush: 'pre' },
)

/** In CSS pixels, as the styles make it; on a narrow page a row has two lines of its own. */
const rowHeight = computed(() => (narrow.value ? 56 : 38))
const ahead = computed(() => props.folders.length * (narrow.value ? 44 : 38))
const pane = ref<HTMLElement>()
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => pane.value ?? null,
    estimateSize: () => rowHeight.value,
    overscan: 12,
    // The folders stand before the documents and go along with them.
    scrollMargin: ahead.value,
  })),
)
watch(rowHeight, () => virtual.value.measure())
const visible = computed(() => virtual.value.getVirtualItems())
const before = computed(() => (visible.value[0]?.start ?? ahead.value) - ahead.value)
const after = computed(() => virtual.value.getTotalSize() - ((visible.value.at(-1)?.end ?? ahead.value) - ahead.value))
watchEffect(() => {
  const last = visible.value.at(-1)
  if (last && last.index >= rows.value.length - 40 && hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage()
})

const things = computed(() => [...props.folders.map(thingOfFolder), ...rows.value.map(thingOfRow)])
const { isChosen, toggle, begin } = useChoosing(
  things,
  () => props.chosen,
  (all) => emit('choose', all),
)
const at = ref(-1)

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
defineExpose({ beside, thing })

function move(to: number) {
  at.value = Math.max(0, Math.min(to, rows.value.length - 1))
  virtual.value.scrollToIndex(at.value)
  emit('show', rows.value[at.value]?.id)
  requestAnimationFrame(() => pane.value?.querySelector<HTMLElement>(`tr[data-index="${at.value}"]`)?.focus())
}

function key(e: KeyboardEvent, index: number) {
  const target = {
    ArrowDown: index + 1,
    ArrowUp: index - 1,
    Home: 0,
    End: rows.value.length - 1,
    PageDown: index + 15,
    PageUp: index - 15,
  }[e.key]
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
      requestAnimationFrame(() => virtual.value.scrollToIndex(i))
    }
  },
)
</script>

<template>
  <div class="showing">
    <slot name="chosen">
      <span>
        {{ t('dossier.showing') }}
        <SentenceSelect v-model="order" :label="t('dossier.orderLabel')" :options="orderWords" :then="mayColumns ? ',' : undefined" />
        {{ ' ' }}
        <RegisterColumns
          v-if="mayColumns && defined"
          v-model="chosenColumns"
          :defined="defined"
          :may-take="mayMove"
          @take="taking = true"
        />
        {{ ' ' }}
        <a v-if="rows.length && !as" class="go small" :href="`/api/folders/${folder}/register.csv`" :title="t('dossier.asTable')" download>
          CSV
        </a>
      </span>
    </slot>
  </div>
  <TakeFromTable v-if="taking && defined" :code="code" :defined="defined" @done="taking = false" />
  <Failed v-if="error && !pages" :error="error" @again="refetch()" />
  <div v-else-if="pages && !rows.length && !folders.length" class="empty">
    <h2>{{ t('dossier.emptyTitle') }}</h2>
    <p>{{ mayAdd ? t('dossier.empty') : t('dossier.emptyView') }}</p>
    <button v-if="mayAdd" type="button" class="btn btn-primary" @click="$emit('add')">{{ t('dossier.addFiles') }}</button>
  </div>
  <div v-else ref="pane" class="pane">
    <FolderRows
      v-if="folders.length"
      :code="code"
      :folders="folders"
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
    <table
      v-else
      class="register toned"
      role="grid"
      :aria-label="t('dossier.columns.name')"
      :class="{ slim }"
      :aria-rowcount="pages?.pages[0]?.total"
      aria-multiselectable="true"
    >
      <RegisterHead v-model:order="order" :slim="slim" :columns="columns" />
      <tbody>
        <tr v-if="before" aria-hidden="true" class="spacer">
          <td :colspan="(slim ? 6 : 7) + columns.length" :style="{ height: `${before}px` }"></td>
        </tr>
        <RegisterRow
          v-for="v in visible"
          :key="rows[v.index].id"
          :row="rows[v.index]"
          :columns="columns"
          :slim="slim"
          :narrow="narrow"
          :chosen="isChosen(rows[v.index].id)"
          :shown="rows[v.index].id === shown"
          :data-index="v.index"
          :data-thing="rows[v.index].id"
          :aria-rowindex="v.index + 2"
          :tabindex="v.index === Math.max(at, 0) ? 0 : -1"
          :draggable="mayMove && !narrow"
          @toggle="toggle(rows[v.index].id, $event)"
          @dragstart="drag($event, isChosen(rows[v.index].id) ? chosen.map((c) => c.id) : [rows[v.index].id])"
          @click="click(v.index, $event)"
          @dblclick="$emit('open', rows[v.index].id)"
          @keydown="key($event, v.index)"
        />
        <tr v-if="after > 0" aria-hidden="true" class="spacer">
          <td :colspan="(slim ? 6 : 7) + columns.length" :style="{ height: `${after}px` }"></td>
        </tr>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
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
.register .spacer td {
  padding: 0;
  border: 0;
  height: 0;
}
.showing :deep(a),
.showing :deep(button) {
  color: var(--tb-action);
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
