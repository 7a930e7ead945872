<script setup lang="ts">
import { useRegister, type RegisterOrder } from '../../queries/dossiers'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useEventListener, useMediaQuery, useResizeObserver } from '@vueuse/core'
import { computed, nextTick, ref, watch, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { drag } from './dragged'
import { useChoosing } from './choosing'
import FolderRows from './FolderRows.vue'
import RegisterHead from './RegisterHead.vue'
import RegisterRow from './RegisterRow.vue'
import RowMenu from './RowMenu.vue'

/** A folder's documents to read and compare. Only the rows in sight are in the page, however long it is. */
type Row = Schemas['DocumentRow']
const props = defineProps<{
  code: string
  folder: string
  shown?: string
  chosen: Row[]
  slim: boolean
  mayAdd: boolean
  mayShare: boolean
  mayMove: boolean
  as?: string
  compare?: boolean
  /** Those within it, and all of the dossier. */
  folders: Schemas['Folder'][]
  all: Schemas['Folder'][]
}>()
const emit = defineEmits<{
  show: [id?: string]
  choose: [rows: Row[]]
  page: [page: Schemas['RegisterPage']]
  add: []
  open: [document: Schemas['Document']]
  giveOut: [items: string[]]
  move: [rows: Row[]]
  row: [top?: number]
}>()
const { t } = useI18n()
const narrow = useMediaQuery('(max-width: 900px)')
const orders: RegisterOrder[] = ['event', 'number', 'name', 'size']
const order = ref<RegisterOrder>((localStorage.getItem('order') as RegisterOrder | null) ?? 'event')
watch(order, (o) => localStorage.setItem('order', o))

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

const { isChosen, toggle, begin } = useChoosing(
  rows,
  () => props.chosen,
  (r) => emit('choose', r),
)
const at = ref(-1)

function click(index: number, e: MouseEvent) {
  at.value = index
  if (e.shiftKey || e.ctrlKey || e.metaKey) return toggle(index, e.shiftKey)
  begin(index)
  emit('show', rows.value[index]?.id)
}

async function look(index: number) {
  const row = rows.value[index]
  if (row) emit('open', await data(api.GET('/documents/{id}', { params: { path: { id: row.id } } })))
}

const menu = ref<{ x: number; y: number; index: number } | null>(null)
function openMenu(index: number, e: MouseEvent) {
  const box = (e.currentTarget as HTMLElement).getBoundingClientRect()
  // The menu key has no place of its own.
  menu.value = { index, x: e.clientX || box.left + 140, y: e.clientY || box.bottom }
}
const menuActs = computed(() => {
  const row = menu.value && rows.value[menu.value.index]
  if (!row || !menu.value) return []
  const index = menu.value.index
  const together = isChosen(row.id) ? props.chosen.map((c) => c.id) : [row.id]
  return [
    ...(props.mayShare ? [{ label: t('dossier.giveOut'), do: () => emit('giveOut', together) }] : []),
    ...(props.mayMove ? [{ label: t('move.menu'), do: () => emit('move', isChosen(row.id) ? props.chosen : [row]) }] : []),
    { label: t('common.view'), do: () => void look(index) },
    { label: t('common.download'), do: () => location.assign(`/api/documents/${row.id}/content?download`) },
    { label: isChosen(row.id) ? t('dossier.unchooseOne') : t('dossier.columns.choose'), do: () => toggle(index, false) },
  ]
})

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
    toggle(index, e.shiftKey)
  } else if (e.key === 'Enter') void look(index)
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
        <SentenceSelect
          v-model="order"
          :label="t('dossier.orderLabel')"
          :options="orders.map((o) => ({ value: o, words: t(`dossier.order.${o}`) }))"
        />
      </span>
    </slot>
  </div>
  <Failed v-if="error && !pages" :error="error" @again="refetch()" />
  <div v-else-if="pages && !rows.length && folders.length" class="pane">
    <FolderRows :code="code" :folders="folders" :all="all" />
    <p class="none quiet small">
      {{ t('dossier.onlyFolders') }}
      <button v-if="mayAdd" type="button" class="go" @click="$emit('add')">{{ t('dossier.addFiles') }}</button>
    </p>
  </div>
  <div v-else-if="pages && !rows.length" class="empty">
    <h2>{{ t('dossier.emptyTitle') }}</h2>
    <p>{{ mayAdd ? t('dossier.empty') : t('dossier.emptyView') }}</p>
    <button v-if="mayAdd" type="button" class="btn btn-primary" @click="$emit('add')">{{ t('dossier.addFiles') }}</button>
  </div>
  <div v-else ref="pane" class="pane">
    <FolderRows v-if="folders.length" :code="code" :folders="folders" :all="all" />
    <table
      class="register toned"
      role="grid"
      :aria-label="t('dossier.columns.name')"
      :class="{ slim }"
      :aria-rowcount="pages?.pages[0]?.total"
      aria-multiselectable="true"
    >
      <RegisterHead v-model:order="order" :slim="slim" />
      <tbody>
        <tr v-if="before" aria-hidden="true" class="spacer"><td :colspan="slim ? 6 : 7" :style="{ height: `${before}px` }"></td></tr>
        <RegisterRow
          v-for="v in visible"
          :key="rows[v.index].id"
          :row="rows[v.index]"
          :slim="slim"
          :narrow="narrow"
          :chosen="isChosen(rows[v.index].id)"
          :shown="rows[v.index].id === shown"
          :data-index="v.index"
          :aria-rowindex="v.index + 2"
          :tabindex="v.index === Math.max(at, 0) ? 0 : -1"
          :draggable="mayMove && !narrow"
          @toggle="toggle(v.index, $event)"
          @dragstart="drag($event, isChosen(rows[v.index].id) ? chosen.map((c) => c.id) : [rows[v.index].id])"
          @click="click(v.index, $event)"
          @dblclick="look(v.index)"
          @keydown="key($event, v.index)"
          @contextmenu.prevent="openMenu(v.index, $event)"
        />
        <tr v-if="after > 0" aria-hidden="true" class="spacer"><td :colspan="slim ? 6 : 7" :style="{ height: `${after}px` }"></td></tr>
      </tbody>
    </table>
    <RowMenu v-if="menu" :key="`${menu.x} ${menu.y}`" :x="menu.x" :y="menu.y" :acts="menuActs" @close="menu = null" />
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
