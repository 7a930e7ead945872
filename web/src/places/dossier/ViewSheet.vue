<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconNext from '~icons/ph/caret-right'
import IconPrevious from '~icons/ph/caret-left'
import { api, data, type Schemas } from '../../api/client'
import DrawnPages from '../../parts/looking/DrawnPages.vue'
import Look from '../../parts/looking/Look.vue'
import type { CellPlace, LookWord, Sought } from '../../parts/looking/word'
import { isCommand, isTyping } from '../../parts/keys'
import Over from '../../parts/Over.vue'
import { useSaid } from '../../sentences/said'
import { useRemarks, type Place } from '../../queries/remarks'
import DecideHere from '../decisions/DecideHere.vue'
import { notePages } from '../decisions/seen'
import { usePlaceWords } from '../remarks/acts'
import Pins from '../remarks/Pins.vue'
import Remarks from '../remarks/Remarks.vue'
import { useVersions } from '../versions/acts'
import InnerLook from './InnerLook.vue'

/** A document over the whole page, and from it to the one before or after it; Escape leads back to where one was. */
const props = defineProps<{
  document: Schemas['Document']
  version?: number
  before?: string
  after?: string
  /** Where one begins to read, and words that were looked for. */
  start?: { page: number; words?: string }
}>()
const emit = defineEmits<{ close: []; open: [id: string] }>()
const { t } = useI18n()
const said = useSaid()
const word: LookWord = (key, fill) => t(`viewer.${key}`, fill ?? {})
const counting = computed(() => props.document.versions.find((v) => v.counts))
/** The version that is shown. */
const shown = computed(() => props.document.versions.find((v) => v.number === props.version) ?? counting.value)
const noteSeen = (pages: number[]) => shown.value && notePages(props.document.id, shown.value.number, pages)
const older = computed(() => shown.value && !shown.value.counts)
const look = computed(() => (shown.value?.mediaType === counting.value?.mediaType ? props.document.look : 'pages'))
const { bringBack } = useVersions(() => props.document.id)
async function back() {
  if (shown.value && (await bringBack(shown.value.number))) emit('close')
}
/** Which file within it is looked at: of an archive, or attached to a mail. */
const inner = ref<number[]>([])
watch(
  () => [props.document.id, props.version],
  () => (inner.value = []),
)
const path = computed(() => ({ id: props.document.id }))
const mayKeep = computed(() => props.document.may.includes('download'))
const outline = () => data(api.GET('/documents/{id}/pages', { params: { path: path.value, query: { version: shown.value?.number } } }))
const content = computed(() => `/api/documents/${props.document.id}/content?version=${shown.value?.number ?? 1}`)
const drawn = (n: number, width: number) =>
  `/api/documents/${props.document.id}/pages/${n}?width=${width}&version=${shown.value?.number ?? 1}`

/** What was looked for, as it stands in the text. */
const sought = ref<Sought>()
watch(
  () => props.start,
  async (start) => {
    sought.value = undefined
    if (!start) return
    const query = { q: start.words ?? '', version: shown.value?.number }
    const found = start.words ? await api.GET('/documents/{id}/words', { params: { path: path.value, query } }) : undefined
    sought.value = { page: start.page, asked: start.words ?? '', words: found?.data?.words ?? [] }
  },
  { immediate: true },
)

/** What is said about it, beside it. */
const talking = ref(false)
const region = ref<HTMLElement>()
const picked = ref<string>()
const place = ref<Place>()
const choosing = ref<'point' | 'area'>()
const placeWords = usePlaceWords()
const { data: remarks } = useRemarks(() => props.document.id, 'all')
const threads = computed(() => remarks.value?.pages.flatMap((p) => p.threads) ?? [])
const open = computed(() => threads.value.filter((th) => !th.resolved).length)
/** Places are numbered from the first page on. */
const numbers = computed(() => {
  const order = threads.value
    .filter((th) => th.place)
    .toSorted((a, b) => (a.place!.page ?? 0) - (b.place!.page ?? 0) || (a.place!.y ?? 0) - (b.place!.y ?? 0) || a.id.localeCompare(b.id))
  return new Map(order.map((th, i) => [th.id, i + 1]))
})
const kinds = computed(() => (['pdf', 'pages'].includes(look.value) ? (['point', 'area'] as const) : []))
function choose(at: Place) {
  place.value = at
  choosing.value = undefined
}
/** What is marked in the text. */
const passage = ref('')
useEventListener(window.document, 'selectionchange', () => {
  const s = getSelection()
  const words = s?.toString().trim() ?? ''
  const inside = !!s?.anchorNode && !!region.value?.contains(s.anchorNode)
  if (inside || !words) passage.value = inside ? words : passage.value && talking.value ? passage.value : ''
})
/** The cell of a table that was pointed at, and those that are talked about. */
const cell = ref<CellPlace>()
const cells = computed(() =>
  threads.value
    .filter((th) => th.place?.kind === 'cell' && th.carried)
    .map(({ id, place: p }) => ({
      sheet: p!.sheet ?? '',
      row: p!.row ?? 0,
      column: p!.column ?? 0,
      number: numbers.value.get(id) ?? 0,
      on: id === picked.value,
    })),
)
function takeCell() {
  place.value = { kind: 'cell', ...cell.value! }
  cell.value = undefined
}
function take() {
  const at = getSelection()?.anchorNode
  const element = at instanceof HTMLElement ? at : at?.parentElement
  const on = element?.closest<HTMLElement>('[data-page], [data-page-number]')
  const page = Number(on?.dataset.page ?? on?.dataset.pageNumber) || undefined
  place.value = { kind: 'passage', page, words: passage.value.slice(0, 600) }
  passage.value = ''
}
useEventListener('keydown', (e) => {
  const to = { n: props.after, p: props.before }[e.key]
  if (to && !isTyping(e) && !isCommand(e)) emit('open', to)
})
</script>

<template>
  <Over :label="document.name" @close="$emit('close')">
    <header role="presentation">
      <span class="no quiet">{{ document.ref }}</span>
      <h2>{{ document.name }}</h2>
      <span class="small quiet only-wide">
        {{ t(older ? 'versions.shown' : 'slip.version', { n: shown?.number, when: shown ? said.when(shown.at) : '' }) }}
      </span>
      <span class="steps">
        <button
          type="button"
          :disabled="!before"
          :aria-label="word('previous')"
          :title="word('previous')"
          @click="before && $emit('open', before)"
        >
          <IconPrevious aria-hidden="true" />
        </button>
        <button type="button" :disabled="!after" :aria-label="word('next')" :title="word('next')" @click="after && $emit('open', after)">
          <IconNext aria-hidden="true" />
        </button>
      </span>
      <button v-if="older && document.may.includes('change')" type="button" class="btn btn-primary" @click="back">
        {{ t('versions.bringBackThis', { n: shown?.number }) }}
      </button>
      <a v-if="mayKeep" class="btn btn-plain only-wide" :href="`${content}&download`" download>
        {{ t('common.downloadSize', { size: said.size(shown?.size ?? 0) }) }}
      </a>
      <button type="button" class="btn btn-plain talk" :aria-pressed="talking" @click="talking = !talking">
        {{ open ? t('remarks.withOpen', { n: open }, open) : t('remarks.title') }}
      </button>
      <button type="button" class="btn btn-plain" autofocus @click="$emit('close')">{{ t('common.close') }}</button>
    </header>
    <div class="reading" :class="{ talking }">
      <div ref="region" class="looking" :class="{ choosing }">
        <DrawnPages
          v-if="look === 'pages'"
          :key="`${document.id} ${shown?.number}`"
          :name="document.name"
          :outline="outline"
          :picture="drawn"
          :word="word"
          :printable="mayKeep"
          :start="start?.page"
          @seen="noteSeen"
        />
        <InnerLook
          v-else-if="inner.length"
          :key="inner.join('.')"
          :document="document"
          :version="shown?.number ?? 1"
          :way="inner"
          :word="word"
          @inner="inner = [...inner, $event]"
          @back="inner = inner.slice(0, -1)"
        />
        <Look
          v-else
          :key="`${document.id} ${shown?.number}`"
          :look="look"
          :content="content"
          :size="shown?.size ?? 0"
          :name="document.name"
          :prepare="() => data(api.GET('/documents/{id}/preview', { params: { path, query: { version: shown?.number } } }))"
          :word="word"
          :marks="talking ? cells : undefined"
          :sought="sought"
          :opens="mayKeep"
          @cell="cell = $event"
          @seen="noteSeen"
          @inner="inner = [$event]"
        />
        <Pins
          v-if="talking"
          :key="document.id"
          :within="region"
          :threads="threads"
          :numbers="numbers"
          :picked="picked"
          :choosing="choosing"
          @pick="picked = $event"
          @chosen="choose"
        />
      </div>
      <aside v-if="talking" :aria-label="t('remarks.title')">
        <Remarks
          :item="document.id"
          :version="shown?.number"
          :numbers="numbers"
          :place="place"
          :picked="picked"
          @pick="picked = $event"
          @said="place = undefined"
        >
          <span class="small quiet">{{ place ? placeWords(place) : t(look === 'table' && !cell ? 'remarks.onCell' : 'remarks.on') }}</span>
          <button
            v-for="k in kinds"
            :key="k"
            type="button"
            class="btn btn-plain btn-small"
            :aria-pressed="choosing === k"
            @click="choosing = choosing === k ? undefined : k"
          >
            {{ t(`remarks.choose.${k}`) }}
          </button>
          <button v-if="passage" type="button" class="btn btn-plain btn-small" @click="take">{{ t('remarks.choose.passage') }}</button>
          <button v-if="cell" type="button" class="btn btn-plain btn-small" @click="takeCell">
            {{ t('remarks.atCell', { sheet: cell.sheet, row: cell.row, column: cell.column }) }}
          </button>
          <button v-if="place" type="button" class="go small" @click="place = undefined">{{ t('remarks.noPlace') }}</button>
        </Remarks>
      </aside>
    </div>
    <DecideHere :document="document.id" :version="shown?.number" />
  </Over>
</template>

<style scoped>
.over {
  position: fixed;
  inset: 0;
  z-index: var(--tb-layer-over);
  background: var(--tb-page);
  display: grid;
  grid-template: auto minmax(0, 1fr) auto / minmax(0, 1fr);
}
header {
  display: flex;
  align-items: center;
  gap: var(--tb-s3);
  padding: 10px 20px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-line);
}
header .btn,
.steps {
  flex: none;
}
.steps button {
  min-width: 30px;
  min-height: 30px;
}
.steps button:disabled {
  color: var(--tb-rule);
}
.reading {
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 1fr);
  min-height: 0;
}
.reading.talking {
  grid-template-columns: minmax(0, 1fr) 360px;
}
.looking {
  position: relative;
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 1fr);
  min-height: 0;
}
.looking.choosing {
  cursor: crosshair;
}
aside {
  overflow-y: auto;
  padding: var(--tb-s3);
  border-left: 1px solid var(--tb-line);
}
@media (max-width: 900px) {
  .reading.talking {
    grid-template: minmax(0, 2fr) minmax(0, 3fr) / minmax(0, 1fr);
  }
}
h2 {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
</style>
