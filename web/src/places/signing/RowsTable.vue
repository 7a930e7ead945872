<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { letterOf } from './placing'
import type { Row } from './rows'

/** To whom a form is sent, a line each: what is missing or wrong is said of its line and filled in there. */
const props = defineProps<{
  rows: Row[]
  asked: number[]
  blanks: Schemas['Blank'][]
  problems: Schemas['SigningProblem'][]
}>()
const emit = defineEmits<{ remove: [row: number]; removeWrong: [] }>()
const { t } = useI18n()
/** So many lines are shown at once; those that are not complete come first. */
const most = 50
const all = ref(false)
const wrong = computed(() => {
  const of = new Map<number, Map<string, string>>()
  for (const p of props.problems) {
    const [row, ...rest] = p.at.split('/')
    if (!rest.length) continue
    const one = of.get(Number(row)) ?? new Map<string, string>()
    if (!one.has(rest.join('/'))) one.set(rest.join('/'), t(`signforms.flaw.${p.flaw}`, { n: p.other + 1 }))
    of.set(Number(row), one)
  }
  return of
})
const shown = computed(() => {
  const order = props.rows.map((_, i) => i)
  if (all.value || props.rows.length <= most) return order
  const bad = order.filter((i) => wrong.value.has(i))
  return [...bad, ...order.filter((i) => !wrong.value.has(i))].slice(0, most).sort((a, b) => a - b)
})
const at = (row: number, where: string) => wrong.value.get(row)?.get(where)
const keyOf = (word: string) => word.trim().replace(/\s+/g, ' ').toLowerCase()
const valueOf = (r: Row, word: string) => Object.entries(r.values).find(([k]) => keyOf(k) === keyOf(word))?.[1] ?? ''
function set(r: Row, word: string, value: string) {
  for (const k of Object.keys(r.values)) if (keyOf(k) === keyOf(word)) delete r.values[k]
  if (value) r.values[word] = value
}
</script>

<template>
  <div class="rows-table" role="region" :aria-label="t('signforms.lines')" tabindex="0">
    <table>
      <thead>
        <tr>
          <th scope="col">
            <span class="visually-hidden">{{ t('signforms.line') }}</span>
          </th>
          <template v-for="i in asked" :key="i">
            <th scope="col">{{ asked.length > 1 ? `${letterOf(i)}, ` : '' }}{{ t('signing.name') }}</th>
            <th scope="col">{{ t('signing.email') }}</th>
          </template>
          <th v-for="b in blanks" :key="b.word" scope="col">{{ b.word }}</th>
          <th scope="col">
            <span class="visually-hidden">{{ t('signforms.state') }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="i in shown" :key="i" :class="{ bad: wrong.has(i) }" :data-row="i">
          <td class="no">{{ i + 1 }}</td>
          <template v-for="(p, k) in rows[i]!.people" :key="k">
            <td :data-label="t('signing.name')">
              <input
                v-model="p.name"
                class="form-control form-control-sm"
                :aria-label="`${t('signing.name')}, ${i + 1}`"
                :aria-invalid="!!at(i, `people/${k}`)"
                :readonly="!!p.person"
                maxlength="200"
              />
            </td>
            <td :data-label="t('signing.email')">
              <input
                v-model="p.email"
                class="form-control form-control-sm"
                :aria-label="`${t('signing.email')}, ${i + 1}`"
                :aria-invalid="!!at(i, `people/${k}`)"
                :readonly="!!p.person"
                :placeholder="p.person ? t('signforms.colleague') : ''"
                maxlength="320"
              />
            </td>
          </template>
          <td v-for="b in blanks" :key="b.word" :data-label="b.word">
            <input
              class="form-control form-control-sm"
              :value="valueOf(rows[i]!, b.word)"
              :placeholder="b.value"
              :aria-label="`${b.word}, ${i + 1}`"
              :aria-invalid="!!at(i, `values/${keyOf(b.word)}`)"
              :data-blank="b.word"
              maxlength="2000"
              @input="set(rows[i]!, b.word, ($event.target as HTMLInputElement).value)"
            />
          </td>
          <td class="small says">
            <span v-if="wrong.has(i)" class="t-caution">{{ [...wrong.get(i)!.values()][0] }}</span>
            <button
              v-if="rows.length > 1"
              type="button"
              class="plus"
              :aria-label="t('signforms.lessLine', { n: i + 1 })"
              @click="emit('remove', i)"
            >
              {{ t('signforms.less') }}
            </button>
          </td>
        </tr>
      </tbody>
    </table>
    <p v-if="shown.length < rows.length" class="small quiet">
      {{ t('signforms.more', rows.length - shown.length) }}
      <button type="button" class="plus" @click="all = true">{{ t('signforms.showAll') }}</button>
    </p>
    <p v-if="wrong.size && wrong.size < rows.length" class="small">
      <button type="button" class="plus" data-less-wrong @click="emit('removeWrong')">{{ t('signforms.lessWrong', wrong.size) }}</button>
    </p>
  </div>
</template>

<style scoped>
.rows-table {
  overflow: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  text-align: left;
  font-weight: 500;
  font-size: var(--tb-small);
  color: var(--tb-quiet);
  padding: 4px 6px 4px 0;
}
td {
  padding: 2px 6px 2px 0;
  vertical-align: top;
}
td input {
  min-width: 6.5rem;
}
tr.bad .no {
  box-shadow: inset 3px 0 0 var(--tb-wrong);
  padding-left: 8px;
}
input[aria-invalid='true'] {
  border-color: var(--tb-wrong);
}
.says {
  min-width: 6rem;
}
@media (max-width: 900px) {
  thead {
    display: none;
  }
  table,
  tbody,
  tr,
  td {
    display: block;
  }
  tr {
    border-bottom: 1px solid var(--tb-line);
    padding: 6px 0;
  }
  td[data-label] {
    display: grid;
    grid-template-columns: 90px minmax(0, 1fr);
    align-items: center;
  }
  td[data-label]::before {
    content: attr(data-label);
    font-size: var(--tb-small);
    color: var(--tb-quiet);
  }
  td input {
    min-width: 0;
  }
}
</style>
