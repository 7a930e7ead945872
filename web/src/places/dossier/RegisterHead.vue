<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { RegisterOrder } from '../../queries/dossiers'

/** The register's columns and their headings, by which it is put in order. */
defineProps<{ slim: boolean }>()
const order = defineModel<RegisterOrder>('order', { required: true })
const { t } = useI18n()
</script>

<template>
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
@media (max-width: 900px) {
  thead,
  colgroup {
    display: none;
  }
}
</style>
