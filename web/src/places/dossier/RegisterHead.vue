<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { RegisterOrder } from '../../queries/dossiers'
import { isNumber } from '../../queries/particulars'
import type { Column } from './arrangement'
import { useColumnWords } from './columnwords'

/** The register's columns and their headings, by which it is put in order; once more, the other way round. */
const props = defineProps<{ columns: Column[] }>()
const order = defineModel<RegisterOrder>('order', { required: true })
const { t } = useI18n()
const { heading } = useColumnWords()
const widths: Record<string, number> = { state: 136, size: 92, kind: 84, person: 132, tags: 132, version: 48 }
const width = (c: Column) => (c.particular ? 124 : c.id === 'event' ? (props.columns.length > 2 ? 150 : 210) : widths[c.id])
const right = (c: Column) => (c.particular ? isNumber(c.particular) : c.id === 'size' || c.id === 'version')

/** The order that is by a column; who brought it, tags and the state have none. */
const by = (c: Column) =>
  c.particular ? (`by ${c.id}` as const) : c.id === 'person' || c.id === 'tags' || c.id === 'state' ? undefined : c.id
/** Those that begin with the last or largest. */
const fromEnd = (o: string) => o === 'event' || o === 'size' || o === 'version'
function turn(o: RegisterOrder) {
  order.value = order.value === o ? (`${o} down` as RegisterOrder) : o
}
function sorted(o?: string) {
  const down = order.value === `${o} down`
  if (!o || (order.value !== o && !down)) return undefined
  return fromEnd(o) !== down ? 'descending' : 'ascending'
}
</script>

<template>
  <colgroup>
    <col style="width: 46px" />
    <col style="width: 52px" />
    <col style="width: 46px" />
    <col />
    <col v-for="c in columns" :key="c.id" :style="{ width: `${width(c)}px` }" />
  </colgroup>
  <thead>
    <tr>
      <th scope="col">
        <span class="visually-hidden">{{ t('dossier.columns.choose') }}</span>
      </th>
      <th scope="col">{{ t('dossier.columns.door') }}</th>
      <th scope="col" :aria-sort="sorted('number')">
        <button type="button" @click="turn('number')">{{ t('dossier.columns.number') }}</button>
      </th>
      <th scope="col" :aria-sort="sorted('name')">
        <button type="button" @click="turn('name')">{{ t('dossier.columns.name') }}</button>
      </th>
      <th v-for="c in columns" :key="c.id" scope="col" :class="{ r: right(c) }" :aria-sort="sorted(by(c))">
        <button v-if="by(c)" type="button" class="by" :title="heading(c)" @click="turn(by(c)!)">{{ heading(c) }}</button>
        <span v-else class="by">{{ heading(c) }}</span>
      </th>
    </tr>
  </thead>
</template>

<style scoped>
/* Two pixels higher, as rows would be seen passing above the head: borders that are shared are drawn half outside. */
th {
  position: sticky;
  top: -2px;
  background: var(--tb-sheet);
  z-index: var(--tb-layer-head);
  box-shadow:
    inset 0 -1px 0 var(--tb-rule),
    inset 0 1px 0 var(--tb-line),
    0 -3px 0 var(--tb-sheet);
  border: 0;
}
.by {
  max-width: 100%;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
th[aria-sort='ascending'] button::after {
  content: ' ↑' / '';
}
th[aria-sort='descending'] button::after {
  content: ' ↓' / '';
}
@media (max-width: 900px) {
  thead,
  colgroup {
    display: none;
  }
}
</style>
