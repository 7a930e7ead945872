<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { RegisterOrder } from '../../queries/dossiers'
import { isNumber, type Particular } from '../../queries/particulars'

/** The register's columns and their headings, by which it is put in order. */
defineProps<{ slim: boolean; columns: Particular[] }>()
const order = defineModel<RegisterOrder>('order', { required: true })
const { t } = useI18n()
const by = (p: Particular): RegisterOrder => `by ${p.id}`
/** By its values; once more, the other way round. */
const turn = (p: Particular) => (order.value = order.value === by(p) ? `by ${p.id} down` : by(p))
const sorted = (p: Particular) => (order.value === by(p) ? 'ascending' : order.value === `by ${p.id} down` ? 'descending' : undefined)
</script>

<template>
  <colgroup>
    <col style="width: 46px" />
    <col style="width: 52px" />
    <col style="width: 46px" />
    <col />
    <col v-if="!slim" class="c-size" style="width: 92px" />
    <col v-for="p in columns" :key="p.id" style="width: 124px" />
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
      <th v-for="p in columns" :key="p.id" scope="col" :class="{ r: isNumber(p) }" :aria-sort="sorted(p)">
        <button type="button" class="by" :title="p.name" @click="turn(p)">{{ p.name }}</button>
      </th>
      <th scope="col" class="r">{{ t('dossier.columns.version') }}</th>
      <th scope="col" :aria-sort="order === 'event' ? 'descending' : undefined">
        <button type="button" @click="order = 'event'">{{ t('dossier.columns.last') }}</button>
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
@media (max-width: 900px) {
  thead,
  colgroup {
    display: none;
  }
}
</style>
