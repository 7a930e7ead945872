<script setup lang="ts">
import { onMounted, provide } from 'vue'
import type { Schemas } from '../api/client'
import { stemOf } from '../i18n/words'
import { useCall } from '../parts/writing/call'
import CallVerb from '../parts/writing/CallVerb.vue'
import Lost from '../parts/writing/Lost.vue'
import PensHere from '../parts/writing/PensHere.vue'
import { useTableRoom } from '../parts/writing/table/room'
import { useTable } from '../parts/writing/table/table'
import TableDesk from '../parts/writing/table/TableDesk.vue'
import { voiceKey } from '../parts/writing/voice'
import type { Ways } from '../parts/writing/ways'
import { useWritten } from './written'
import WriteHead from './WriteHead.vue'
import { voice } from './writing'

/** A table that a visitor writes with others. */
const props = defineProps<{ me: string; page: string; ways: Ways; file: Schemas['LinkFile'] }>()
const emit = defineEmits<{ close: [] }>()
provide(voiceKey, voice)
const { t } = voice
const table = useTable(props.ways, props.me, { becameText: () => emit('close') }, props.page)
const call = useCall(table)
const { wrong, state, nameOf } = useWritten(table)
const room = useTableRoom(table, voice, nameOf, (why) => (wrong.value = t(`writing.grid.refused.${why}`)))
const { following, whereabouts } = room
onMounted(() => void table.open())
</script>

<template>
  <div class="room">
    <WriteHead :title="stemOf(file.name)" :state="state" @close="emit('close')" />
    <section class="here" :aria-label="t('writing.whoIsHere')">
      <PensHere v-model:following="following" :pens="table.pens.value" :me="me" :places="whereabouts" />
      <CallVerb :call="call" />
    </section>
    <TableDesk :table="table" :room="room" :call="call" :label="stemOf(file.name)" :file="file.name" :name-of="nameOf">
      <template #lines><Lost v-model="table.lost.value" /></template>
    </TableDesk>
  </div>
</template>

<style scoped>
.room {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.here {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding: 8px 24px;
  border-bottom: 1px solid var(--tb-rule);
}
@media (max-width: 900px) {
  .here {
    flex-wrap: wrap;
    padding: 6px 16px;
  }
}
</style>
<style src="../parts/writing/writing.css"></style>
