<script setup lang="ts">
import { useRegister, type RegisterOrder } from '../../queries/dossiers'
import { useVirtualizer } from '@tanstack/vue-virtual'
import { useEventListener, useMediaQuery, useResizeObserver } from '@vueuse/core'
import { computed, nextTick, ref, watch, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { extensionOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import Failed from '../../app/Failed.vue'
import MiddleName from '../../parts/MiddleName.vue'
import { drag } from './dragged'
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
const said = useSaid()
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
const pane = ref<HTMLElement>()
const virtual = useVirtualizer(
  computed(() => ({
    count: rows.value.length,
    getScrollElement: () => pane.value ?? null,
    estimateSize: () => rowHeight.value,
    overscan: 12,
  })),
)
watch(rowHeight, () => virtual.value.measure())
const visible = computed(() => virtual.value.getVirtualItems())
const before = computed(() => visible.value[0]?.start ?? 0)
const after = computed(() => virtual.value.getTotalSize() - (visible.value.at(-1)?.end ?? 0))
watchEffect(() => {
  const last = visible.value.at(-1)
  if (last && last.index >= rows.value.length - 40 && hasNextPage.value && !isFetchingNextPage.value) void fetchNextPage()
})

const isChosen = (id: string) => props.chosen.some((c) => c.id === id)
const at = ref(-1)
let anchor = -1

function toggle(index: number, range: boolean) {
  const row = rows.value[index]
  if (!row) return
  if (range && anchor >= 0) {
    const [from, to] = [Math.min(anchor, index), Math.max(anchor, index)]
    const more = rows.value.slice(from, to + 1).filter((r) => !isChosen(r.id))
    emit('choose', [...props.chosen, ...more])
    return
  }
  anchor = index
  emit('choose', isChosen(row.id) ? props.chosen.filter((c) => c.id !== row.id) : [...props.chosen, row])
}

function click(index: number, e: MouseEvent) {
  at.value = index
  if (e.shiftKey || e.ctrlKey || e.metaKey) return toggle(index, e.shiftKey)
  anchor = index
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

function last(r: Row): string {
  const e = r.lastEvent
  return e ? t(`eventShort.${e.kind.replace('.', '_')}`, { actor: said.first(e), version: e.version }) : ''
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
        <select v-model="order" class="w choice" :aria-label="t('dossier.orderLabel')">
          <option v-for="o in orders" :key="o" :value="o">{{ t(`dossier.order.${o}`) }}</option>
        </select>
      </span>
    </slot>
  </div>
  <Failed v-if="error && !pages" :error="error" @again="refetch()" />
  <div v-else-if="pages && !rows.length" class="empty">
    <h2>{{ t('dossier.emptyTitle') }}</h2>
    <p>{{ mayAdd ? t('dossier.empty') : t('dossier.emptyView') }}</p>
    <button v-if="mayAdd" type="button" class="btn btn-primary" @click="$emit('add')">{{ t('dossier.addFiles') }}</button>
  </div>
  <div v-else ref="pane" class="pane">
    <table
      class="register toned"
      role="grid"
      :aria-label="t('dossier.columns.name')"
      :class="{ slim }"
      :aria-rowcount="pages?.pages[0]?.total"
      aria-multiselectable="true"
    >
      <colgroup>
        <col style="width: 46px" />
        <col style="width: 52px" />
        <col style="width: 46px" />
        <col />
        <col v-if="!slim" class="c-size" style="width: 92px" />
        <col style="width: 44px" />
        <col :style="{ width: slim ? '150px' : '210px' }" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">
            <span class="visually-hidden">{{ t('dossier.columns.choose') }}</span>
          </th>
          <th scope="col">{{ t('dossier.columns.door') }}</th>
          <th scope="col" :aria-sort="order === 'number' ? 'ascending' : undefined">
            <button type="button" @click="order = 'number'">{{ t('dossier.columns.number') }}</button>
          </th>
          <th scope="col" :aria-sort="order === 'name' ? 'ascending' : undefined">
            <button type="button" @click="order = 'name'">{{ t('dossier.columns.name') }}</button>
          </th>
          <th v-if="!slim" scope="col" class="r c-size" :aria-sort="order === 'size' ? 'descending' : undefined">
            <button type="button" @click="order = 'size'">{{ t('dossier.columns.size') }}</button>
          </th>
          <th scope="col" class="r">{{ t('dossier.columns.version') }}</th>
          <th scope="col" :aria-sort="order === 'event' ? 'descending' : undefined">
            <button type="button" @click="order = 'event'">{{ t('dossier.columns.last') }}</button>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-if="before" aria-hidden="true" class="spacer"><td :colspan="slim ? 6 : 7" :style="{ height: `${before}px` }"></td></tr>
        <tr
          v-for="v in visible"
          :key="rows[v.index].id"
          :data-index="v.index"
          :data-ref="rows[v.index].ref"
          :aria-rowindex="v.index + 2"
          :tabindex="v.index === Math.max(at, 0) ? 0 : -1"
          :aria-selected="isChosen(rows[v.index].id) || rows[v.index].id === shown"
          :class="{ shown: rows[v.index].id === shown, hidden: rows[v.index].hidden }"
          :draggable="mayMove && !narrow"
          @dragstart="drag($event, isChosen(rows[v.index].id) ? chosen.map((c) => c.id) : [rows[v.index].id])"
          @click="click(v.index, $event)"
          @dblclick="look(v.index)"
          @keydown="key($event, v.index)"
          @contextmenu.prevent="openMenu(v.index, $event)"
        >
          <td class="choose" @click.stop="toggle(v.index, $event.shiftKey)">
            <input
              class="form-check-input"
              type="checkbox"
              tabindex="-1"
              :checked="isChosen(rows[v.index].id)"
              :aria-label="`${t('dossier.columns.choose')} ${rows[v.index].name}`"
              @click.stop="toggle(v.index, $event.shiftKey)"
            />
          </td>
          <td><Door v-bind="rows[v.index].door" /></td>
          <td class="no">{{ String(rows[v.index].number).padStart(3, '0') }}</td>
          <td>
            <MiddleName :name="rows[v.index].name" />
            <span v-if="rows[v.index].hidden" class="visually-hidden">{{ t('access.notSeen') }}</span>
            <span class="s">
              <span class="no number">{{ String(rows[v.index].number).padStart(3, '0') }}</span>
              {{ extensionOf(rows[v.index].name) + (slim || narrow ? `, ${said.size(rows[v.index].size)}` : '') }}
            </span>
          </td>
          <td v-if="!slim" class="r c-size">{{ said.size(rows[v.index].size) }}</td>
          <td class="r">{{ rows[v.index].version }}</td>
          <td class="ev">
            {{ last(rows[v.index]) }}
            <span v-if="rows[v.index].lastEvent" class="s" :title="said.full(rows[v.index].lastEvent!.at)">
              {{ said.when(rows[v.index].lastEvent!.at) }}
            </span>
          </td>
        </tr>
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
/* Two pixels higher, as rows would be seen passing above the head: borders that are shared are drawn half outside. */
.pane thead th {
  position: sticky;
  top: -2px;
  background: var(--tb-sheet);
  z-index: 1;
  box-shadow:
    inset 0 -1px 0 var(--tb-rule),
    inset 0 1px 0 var(--tb-line),
    0 -3px 0 var(--tb-sheet);
  border: 0;
}
/* What a sheet docks under can be scrolled above it. */
:global(.frame:has(.desk-sheet) .pane) {
  padding-bottom: 60vh;
  scroll-padding-top: 34px;
}
.spacer td {
  padding: 0 !important;
  border: 0;
  height: 0;
}
.showing :deep(a),
.showing :deep(button) {
  color: var(--tb-action);
}
.register tbody .s {
  height: 15px;
}
.hidden td {
  color: var(--tb-quiet);
  text-decoration: line-through;
}
.number {
  display: none;
  margin-right: 8px;
}
@media (max-width: 900px) {
  .number {
    display: inline;
  }
  .pane {
    max-height: calc(100dvh - 108px);
  }
  tbody tr:not(.spacer) {
    height: 56px;
    overflow: hidden;
  }
  .spacer {
    display: block;
  }
  .spacer td {
    display: block;
  }
  .register,
  .register tbody {
    display: block;
  }
  thead,
  colgroup,
  .c-size {
    display: none;
  }
  tbody tr:not(.spacer) {
    display: grid;
    grid-template-columns: 46px minmax(0, 1fr) 112px;
    grid-template-rows: 20px 19px;
    padding: 8px 16px 7px;
    min-height: 56px;
    border-bottom: 1px solid var(--tb-line);
  }
  tbody tr:not(.spacer) td {
    border: 0;
    padding: 0;
    height: auto;
    box-shadow: none !important;
    background: none !important;
  }
  tbody td.choose,
  tbody td.no,
  tbody td:nth-last-child(2) {
    display: none;
  }
  tr {
    -webkit-touch-callout: none;
    user-select: none;
  }
  tbody tr td:nth-child(2) {
    grid-row: 1 / 3;
  }
  tbody tr td:last-child {
    text-align: right;
    font-size: 0.8125rem;
    grid-row: 1 / 3;
  }
  tbody tr td:nth-child(4) {
    grid-row: 1 / 3;
  }
  tr[aria-selected='true'] {
    background: var(--tb-selection);
    box-shadow: inset 3px 0 0 var(--tb-action);
  }
}
</style>
