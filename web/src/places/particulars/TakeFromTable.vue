<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import type { Particular } from '../../queries/particulars'
import { useSaid } from '../../sentences/said'
import { readTable, type ReadTable } from './table'

/** Takes particulars of a dossier's documents from a CSV file: what it would change, and what is wrong with it by row, is said before. */
const props = defineProps<{ code: string; defined: Particular[] }>()
const emit = defineEmits<{ done: [] }>()
const { t, te } = useI18n()
const said = useSaid()
const { act, busy, wrong } = useAct()
const table = ref<ReadTable>()
const outcome = ref<Schemas['ParticularOutcome']>()
const unread = ref('')
const path = computed(() => ({ code: props.code }))
const ask = (trying: boolean) =>
  data(
    api.POST('/dossiers/{code}/particulars', {
      params: { path: path.value },
      body: { try: trying, columns: table.value!.columns.map((p) => p.id), rows: table.value!.rows },
    }),
  )

async function read(e: Event) {
  const file = (e.target as HTMLInputElement).files?.[0]
  table.value = outcome.value = undefined
  unread.value = ''
  if (!file) return
  const got = await readTable(file, props.defined)
  if (typeof got === 'string') return (unread.value = t(`particulars.table.${got}`))
  table.value = got
  await act(async () => (outcome.value = await ask(true)))
}
async function take() {
  const taken = await act(
    async () => {
      outcome.value = await ask(false)
    },
    {
      done: () => (outcome.value!.wrong.length ? '' : t('particulars.table.taken', { n: outcome.value!.values }, outcome.value!.values)),
    },
  )
  if (taken && !outcome.value!.wrong.length) emit('done')
}
const problem = (code: string) =>
  te(`problem.${code}`) || te(`problem.${code}`, 'en') ? t(`problem.${code}`) : t('particulars.table.unseen')
/** The line of the file, counting its heading. */
const lineOf = (row: number) => table.value!.lines[row]
const columnOf = (id?: string) => props.defined.find((p) => p.id === id)?.name
</script>

<template>
  <form class="written take" :aria-label="t('particulars.table.title')" @submit.prevent="take" @keydown.esc.stop="$emit('done')">
    <p>{{ t('particulars.table.about') }}</p>
    <input type="file" class="form-control" accept=".csv,text/csv" :aria-label="t('particulars.table.file')" @change="read" />
    <p v-if="unread" class="t-caution small" role="alert">{{ unread }}</p>
    <template v-if="table && outcome">
      <p v-if="table.unknown.length" class="small quiet">{{ t('particulars.table.unknown', { names: said.list(table.unknown) }) }}</p>
      <p v-if="!outcome.wrong.length" role="status">
        {{ t('particulars.table.would', { n: outcome.values, documents: outcome.documents }) }}
      </p>
      <template v-else>
        <p class="t-caution" role="alert">
          {{ t('particulars.table.wrong', { n: outcome.wrong.length }, outcome.wrong.length) }}
        </p>
        <ul class="small">
          <li v-for="w in outcome.wrong.slice(0, 12)" :key="`${w.row} ${w.particular}`">
            {{ t('particulars.table.line', { line: lineOf(w.row) }) }}{{ columnOf(w.particular) ? `, ${columnOf(w.particular)}` : '' }}:
            {{ problem(w.problem) }}
          </li>
        </ul>
      </template>
    </template>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary btn-small" :disabled="busy || !outcome || outcome.wrong.length > 0 || !outcome.values">
        {{ t('particulars.table.take') }}
      </button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('done')">{{ t('common.discard') }}</button>
    </div>
  </form>
</template>

<style scoped>
.take {
  display: grid;
  gap: var(--tb-s2);
  margin: var(--tb-s2) 20px;
  padding: var(--tb-s3);
}
.take .form-control {
  max-width: 420px;
}
</style>
