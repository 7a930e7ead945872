<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { extensionOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import MiddleName from '../../parts/MiddleName.vue'
import { isNumber, type Particular } from '../../queries/particulars'
import { useSaid } from '../../sentences/said'
import { useValueWords } from '../particulars/value'

/** One document of the register. */
const props = defineProps<{
  row: Schemas['DocumentRow']
  columns: Particular[]
  slim: boolean
  narrow: boolean
  chosen: boolean
  shown: boolean
}>()
defineEmits<{ toggle: [range: boolean] }>()
const { t } = useI18n()
const said = useSaid()
const { words } = useValueWords()
const cells = computed(() =>
  props.columns.map((p) => {
    const v = props.row.particulars?.find((o) => o.particular.id === p.id)
    return { id: p.id, words: v?.value ? words(p, v.value, v.person) : '', right: isNumber(p) }
  }),
)
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
        {{ extensionOf(row.name) + (slim || narrow ? `, ${said.size(row.size)}` : '') }}
      </span>
    </td>
    <td v-if="!slim" class="r size">{{ said.size(row.size) }}</td>
    <td v-for="c in cells" :key="c.id" class="value" :class="{ r: c.right }" :title="c.words">{{ c.words }}</td>
    <td class="r version">{{ row.version }}</td>
    <td v-if="row.held" class="ev">
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
  tr > td.choose,
  tr > td.no,
  tr > td.size,
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
