<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'

/** A table cell by cell: rows that differ with those beside them, the others counted. */
defineProps<{ table: Schemas['ComparedTable'] }>()
const { t } = useI18n()
const number = (r: Schemas['ComparedRow']) => r.now ?? r.before
/** Only what changed stands twice. */
const once = (c: Schemas['ComparedCell'], kind?: string) => (kind === 'removed' ? c.before : (c.now ?? c.before))
</script>

<template>
  <div class="scroll" tabindex="0" role="region" :aria-label="t('comparison.table')">
    <p v-if="table.sheet" class="small">
      <b>{{ table.sheet }}</b>
      <span v-if="table.others?.length" class="quiet">{{ ' ' }}{{ t('comparison.otherSheets', { what: table.others.join(', ') }) }}</span>
    </p>
    <table>
      <tbody>
        <template v-for="(r, i) in table.rows" :key="i">
          <tr v-if="r.skipped" class="skip">
            <td :colspan="table.columns.length + 1">{{ t('comparison.sameRows', { n: r.skipped }, r.skipped) }}</td>
          </tr>
          <tr v-else :class="r.kind" :data-change="r.kind === 'same' ? undefined : i" tabindex="-1">
            <th scope="row">
              {{ number(r) }}
              <span v-if="r.kind !== 'same'" class="visually-hidden">{{ t(`comparison.row.${r.kind}`) }}</span>
            </th>
            <td v-for="(c, j) in r.cells" :key="j" :class="[table.columns[j]?.change, { changed: c.changed }]">
              <template v-if="c.changed">
                <del>{{ c.before ?? '–' }}</del>
                {{ ' ' }}
                <ins>{{ c.now ?? '–' }}</ins>
              </template>
              <template v-else>{{ once(c, r.kind) }}</template>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
  </div>
</template>

<style scoped>
.scroll {
  overflow-x: auto;
  background: var(--tb-sheet);
  border: 1px solid var(--tb-line);
  padding: var(--tb-s3);
}
table {
  border-collapse: collapse;
  font-variant-numeric: tabular-nums;
  font-size: var(--tb-text);
}
td,
th {
  padding: 3px 10px;
  border-bottom: 1px solid var(--tb-line);
  text-align: left;
  white-space: nowrap;
  max-width: 320px;
  overflow: hidden;
  text-overflow: ellipsis;
}
th {
  color: var(--tb-quiet);
  font-weight: 400;
  font-size: var(--tb-small);
  border-left: 4px double transparent;
}
.changed > th,
tr.added > th,
tr.removed > th {
  border-left-color: var(--tb-ink);
}
.skip td {
  background: var(--tb-page);
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
td.changed,
tr.added td,
td.added {
  background: var(--tb-selection);
}
tr.removed td,
td.removed {
  color: var(--tb-quiet);
  text-decoration: line-through;
}
del {
  color: var(--tb-quiet);
}
ins {
  text-decoration-color: var(--tb-done);
  text-decoration-thickness: 2px;
}
</style>
