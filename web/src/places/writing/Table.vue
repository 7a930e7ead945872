<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import { tell } from '../../app/toasts'
import Door from '../../parts/Door.vue'
import { useCall } from '../../parts/writing/call'
import CallVerb from '../../parts/writing/CallVerb.vue'
import Lost from '../../parts/writing/Lost.vue'
import PensHere from '../../parts/writing/PensHere.vue'
import { useTableRoom } from '../../parts/writing/table/room'
import { useTable } from '../../parts/writing/table/table'
import TableDesk from '../../parts/writing/table/TableDesk.vue'
import { waysTo } from '../../parts/writing/ways'
import { useRemarks } from '../../queries/remarks'
import { usePlaceWords } from '../remarks/acts'
import Remarks from '../remarks/Remarks.vue'
import Growing from './Growing.vue'
import { useSitting } from './sitting'
import { useVoiceHere } from './voice'
import WrittenTop from './WrittenTop.vue'

/** A table is written, by several at once: who is here, the table, and what is said about it. */
const props = defineProps<{ document: string }>()
const { t } = useI18n()
const voice = useVoiceHere()
const headers: Record<string, string> = useRoute().query.supersede === 'approved' ? { Supersede: 'approved' } : {}
const table = useTable(waysTo(props.document, headers), useSession().session?.person.id ?? '', {
  becameText: () => location.replace(`/write/${props.document}`),
})
const call = useCall(table)
const { doc, place, title, newest, state, caution, asksToSupersede, heard, nameOf } = useSitting(props.document, table)
const room = useTableRoom(table, voice, nameOf, (why) => tell(t(`writing.grid.refused.${why}`)))
const { n, sheet, shown, here, show, following, whereabouts } = room
onMounted(() => void table.open())

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
    <TableDesk
      v-if="sheet && place"
      :table="table"
      :room="room"
      :call="call"
      :label="title"
      :file="place.name"
      :name-of="nameOf"
      :signs="signs"
      :numbers="numbers"
      @thread="((thread = $event), (talking = true))"
    >
      <template #lines><Lost v-model="table.lost.value" /></template>
      <template v-if="talking" #talk>
        <aside id="talk-beside" class="talk-beside" :aria-label="t('writing.talk')">
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
      </template>
    </TableDesk>
    <p class="visually-hidden" aria-live="polite">{{ heard }}</p>
  </main>
</template>

<style scoped>
.table-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto minmax(0, 1fr);
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
.talk-beside {
  overflow: auto;
  padding: 12px 20px;
  background: var(--tb-sheet);
  border-right: 1px solid var(--tb-rule);
  min-height: 0;
}
@media (max-width: 900px) {
  .table-page {
    height: calc(100dvh - 52px - 56px);
  }
  .here {
    padding: 6px 16px;
    min-height: 0;
  }
}
</style>
<style src="../../parts/writing/writing.css"></style>
