<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { extensionOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import MiddleName from '../../parts/MiddleName.vue'
import { isNumber } from '../../queries/particulars'
import StateWords from '../../sentences/StateWords.vue'
import { useSaid } from '../../sentences/said'
import type { Column } from './arrangement'
import { useColumnWords } from './columnwords'

/** One document of the register. */
const props = defineProps<{
  row: Schemas['DocumentRow']
  columns: Column[]
  slim: boolean
  narrow: boolean
  chosen: boolean
  shown: boolean
}>()
defineEmits<{ toggle: [range: boolean] }>()
const { t } = useI18n()
const said = useSaid()
const { valueOf } = useColumnWords()
/** Tags stand below the name where they have no column. */
const below = computed(() => !props.columns.some((c) => c.id === 'tags') && props.row.tags?.map((g) => g.name).join(', '))
const number = computed(() => String(props.row.number).padStart(3, '0'))
const last = computed(() => {
  const e = props.row.lastEvent
  return e ? t(`eventShort.${e.kind.replace('.', '_')}`, { actor: said.first(e), version: e.version }) : ''
})
</script>

<template>
  <tr :data-ref="row.ref" :aria-selected="chosen || shown" :class="{ shown, hidden: row.hidden }">
    <td class="choose" @click.stop="$emit('toggle', $event.shiftKey)">
      <input
        class="form-check-input"
        type="checkbox"
        tabindex="-1"
        :checked="chosen"
        :aria-label="`${t('dossier.columns.choose')} ${row.name}`"
        @click.stop="$emit('toggle', $event.shiftKey)"
      />
    </td>
    <td class="reach"><Door v-bind="row.door" /></td>
    <td class="no">{{ number }}</td>
    <td class="what">
      <MiddleName :name="row.name" />
      <span v-if="row.hidden" class="visually-hidden">{{ t('access.notSeen') }}</span>
      <span class="s">
        <span class="no number">{{ number }}</span>
        {{ extensionOf(row.name) + (columns.some((c) => c.id === 'size') && !narrow ? '' : `, ${said.size(row.size)}`) }}
        <span v-if="below">· {{ below }}</span>
      </span>
    </td>
    <template v-for="c in columns" :key="c.id">
      <td v-if="c.particular" class="value" :class="{ r: isNumber(c.particular) }" :title="valueOf(row, c.particular)">
        {{ valueOf(row, c.particular) }}
      </td>
      <td v-else-if="c.id === 'state'" class="ev state"><StateWords :state="row.state" /></td>
      <td v-else-if="c.id === 'size'" class="r size">{{ said.size(row.size) }}</td>
      <td v-else-if="c.id === 'version'" class="r version">{{ row.version }}</td>
      <td v-else-if="c.id === 'kind'" class="value">{{ t(`find.one.${row.kind}`) }}</td>
      <td v-else-if="c.id === 'person'" class="value" :title="row.by">{{ row.by }}</td>
      <td v-else-if="c.id === 'tags'" class="value" :title="row.tags?.map((g) => g.name).join(', ')">
        <span v-for="(g, i) in row.tags" :key="g.id" :class="{ own: g.own }">{{ (i ? ', ' : '') + g.name }}</span>
      </td>
      <td v-else-if="row.held" class="ev">
        <i class="held" aria-hidden="true"></i>
        {{ row.held.byMe ? t('checkout.rowMine') : t('checkout.row', { by: row.held.by }) }}
        <span class="s" :title="row.held.note">
          {{ row.held.back ? t('checkout.backBy', { when: said.when(row.held.back) }) : said.when(row.held.since) }}
        </span>
      </td>
      <td v-else class="ev">
        {{ last }}
        <span v-if="row.lastEvent" class="s" :title="said.full(row.lastEvent.at)">{{ said.when(row.lastEvent.at) }}</span>
      </td>
    </template>
  </tr>
</template>

<style scoped>
.s {
  height: 15px;
}
/* What is in a hand has a black square before it. */
.held {
  display: inline-block;
  width: 8px;
  height: 8px;
  background: var(--tb-ink);
}
.hidden td {
  color: var(--tb-quiet);
  text-decoration: line-through;
}
.value {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.own {
  font-style: italic;
}
.number {
  display: none;
  margin-right: var(--tb-s2);
}
@media (max-width: 900px) {
  .number {
    display: inline;
  }
  tr {
    display: grid;
    grid-template-columns: 46px minmax(0, 1fr) 112px;
    padding: 8px 16px 7px;
    height: 56px;
    overflow: hidden;
    border-bottom: 1px solid var(--tb-line);
    -webkit-touch-callout: none;
    user-select: none;
  }
  tr > td {
    border: 0;
    padding: 0;
    height: auto;
  }
  tr > td.what {
    padding-right: var(--tb-s2);
  }
  tr > td.choose,
  tr > td.no,
  tr > td.size,
  tr > td.value,
  tr > td.state,
  tr > td.version {
    display: none;
  }
  .ev {
    text-align: right;
    font-size: var(--tb-small);
  }
  tr[aria-selected='true'] {
    background: var(--tb-selection);
    box-shadow: inset 3px 0 0 var(--tb-action);
  }
  tr[aria-selected='true'] td,
  tr.shown td,
  tr:hover td {
    background: none;
    box-shadow: none;
  }
}
</style>
