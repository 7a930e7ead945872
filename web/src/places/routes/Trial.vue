<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { stemOf } from '../../i18n/words'
import { useSaid } from '../../sentences/said'
import { csvOf, saveText } from './file'

/** What would have become of the last documents by what is written, beside what the edition that counts does. */
const props = defineProps<{ id: string; definition: Schemas['RouteDefinition']; edition: number; writing: boolean }>()
const { t } = useI18n()
const said = useSaid()
const trial = ref<Schemas['Trial']>()
const { act, busy, wrong } = useAct({ apart: true })
const attempt = () => act(async () => (trial.value = await data(api.POST('/routes/{id}/trial', { params: { path: { id: props.id } } }))))
// What was tried was another one.
watch(
  () => JSON.stringify(props.definition),
  () => (trial.value = undefined),
)
const letter = (n?: number) => (n ? String.fromCharCode(96 + n) : '')
const most = computed(() => Math.max(1, ...(trial.value?.tally ?? []).map((l) => l.now)))
const stops = computed(() => [...new Set((trial.value?.asked ?? []).map((a) => a.stop))])
const heavy = (stop: number) => (trial.value?.asked ?? []).filter((a) => a.stop === stop)
const heaviest = computed(() => Math.max(1, ...(trial.value?.asked ?? []).map((a) => a.n)))
const held = computed(() => (trial.value?.tried ?? []).filter((d) => d.held))
const compares = computed(() => props.edition > 0 && props.writing)
const what = (l: Schemas['TrialTally']) => {
  if (!l.stop) return t('routes.tried.not')
  if (l.held) return t('routes.tried.held', { why: t(`decisions.heldWhy.${l.held}`, { why: '' }).replace(/\.$/, '') })
  return t('routes.tried.came', { do: t(`decisions.do.${l.do}`) })
}
function takeOut() {
  const rows = trial.value!.tried.map((d) => [
    d.ref,
    d.name,
    d.starts ? d.path.join(' ') : '',
    d.held ?? '',
    d.starts ? d.days.toFixed(1) : '',
  ])
  saveText(`${props.definition.name}.csv`, csvOf([['ref', 'name', 'stops', 'held', 'days'], ...rows]), 'text/csv')
}
</script>

<template>
  <aside>
    <header>
      <h2>{{ t('routes.tried.title') }}</h2>
      <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="attempt">{{ t('routes.tried.again') }}</button>
    </header>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <p v-if="!trial" class="quiet">{{ t('routes.tried.hint') }}</p>
    <p v-else-if="!trial.tried.length">{{ t('routes.tried.none') }}</p>
    <template v-else>
      <p class="terms">
        {{
          trial.tried.length === 1
            ? t('routes.tried.onOne')
            : t('routes.tried.on', { n: trial.tried.length, from: said.day(trial.since!), to: said.day(trial.until!) })
        }}
      </p>
      <table class="tally">
        <thead>
          <tr>
            <th scope="col">{{ t('routes.tried.stop') }}</th>
            <th scope="col">{{ t('routes.tried.would') }}</th>
            <th scope="col" class="r">{{ t('routes.tried.now', { n: writing ? edition + 1 : edition }) }}</th>
            <td></td>
            <th v-if="compares" scope="col" class="r">{{ t('routes.tried.before', { n: edition }) }}</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="(l, i) in trial.tally" :key="i" :class="{ 't-caution': l.held }">
            <td>{{ l.stop || '' }}{{ letter(l.case) }}</td>
            <td>{{ what(l) }}</td>
            <td class="r">{{ l.now }}</td>
            <td class="plot" aria-hidden="true"><i :style="{ width: `${(l.now / most) * 100}%` }"></i></td>
            <td v-if="compares" class="r quiet">{{ l.before ?? 0 }}</td>
          </tr>
        </tbody>
      </table>
      <template v-if="held.length">
        <h3>{{ t('routes.tried.heldList') }}</h3>
        <p v-for="d in held.slice(0, 8)" :key="d.ref" class="small">
          <RouterLink class="no" :to="`/d/${d.ref}`">{{ d.ref }}</RouterLink>
          {{ ` ${stemOf(d.name)}` }}
        </p>
      </template>
      <template v-for="n in stops" :key="n">
        <h3>{{ t('routes.tried.asked', { n }) }}</h3>
        <div v-for="a in heavy(n)" :key="a.name" class="bar small">
          <span>{{ a.name }}</span>
          <span class="plot" aria-hidden="true"><i :style="{ width: `${(a.n / heaviest) * 100}%` }"></i></span>
          <span class="r">{{ a.n }}</span>
        </div>
      </template>
      <p class="small quiet">
        {{
          trial.half !== undefined
            ? t('routes.tried.through', { half: said.number(trial.half, 1), most: said.number(trial.most ?? 0, 1) })
            : ''
        }}
        <button type="button" class="go" @click="takeOut">{{ t('routes.tried.csv', { n: trial.tried.length }) }}</button>
      </p>
    </template>
  </aside>
</template>

<style scoped>
aside {
  border-left: 1px solid var(--tb-line);
  padding: 18px 24px;
  overflow-y: auto;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding-bottom: var(--tb-s2);
  border-bottom: 1px solid var(--tb-ink);
  margin-bottom: var(--tb-s3);
}
header h2 {
  margin: 0;
}
.tally {
  width: 100%;
  font-size: var(--tb-small);
  margin-bottom: var(--tb-s3);
}
.tally th,
.tally td {
  padding: 5px 6px 5px 0;
  border-bottom: 1px solid var(--tb-line);
  font-weight: 400;
  vertical-align: top;
}
.tally th {
  color: var(--tb-quiet);
}
.r {
  text-align: right;
}
.plot {
  width: 90px;
}
.plot i {
  display: block;
  height: 10px;
  margin-top: 4px;
  min-width: 2px;
  background: var(--tb-inside);
}
.t-caution .plot i {
  background: var(--tb-caution);
}
h3 {
  margin: var(--tb-s3) 0 var(--tb-s1);
}
.bar {
  display: grid;
  grid-template-columns: 120px 1fr 30px;
  align-items: center;
  padding: 3px 0;
  border-bottom: 1px solid var(--tb-line);
}
.bar .plot {
  width: auto;
}
.bar .plot i {
  margin: 0;
}
.small {
  margin: 0;
}
@media (max-width: 1000px) {
  aside {
    border-left: 0;
    border-top: 1px solid var(--tb-line);
    padding: 18px 16px;
  }
}
</style>
