<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import { stemOf } from '../../i18n/words'
import { useRouteRuns } from '../../queries/routes'
import { useSaid } from '../../sentences/said'
import { useDecisionWords } from '../decisions/words'
import { csvOf, saveText } from './file'

/** All runs of a route on one grid of its stops, with how long each takes; what does not go on first, and why. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const words = useDecisionWords()
const { data: page, error, refetch } = useRouteRuns(() => props.id)
const parts = computed(() => {
  const all = page.value?.runs ?? []
  return [
    { key: 'held', runs: all.filter((r) => r.status === 'held') },
    { key: 'going', runs: all.filter((r) => r.status === 'going') },
    { key: 'over', runs: all.filter((r) => r.endedAt) },
  ]
})
const columns = computed(() => page.value?.times.length ?? 0)
/** The scale of the small plots: the longest of what is given and what was taken. */
const scale = (s: Schemas['StopTimes']) => Math.max(s.most, s.given ?? 0, 0.1) * 1.1
const days = (r: Schemas['RunLine']) => r.stops.reduce((sum, s) => sum + (s.days ?? 0), 0)
const rows = computed(() =>
  (page.value?.runs ?? []).map((r) => ({
    ref: r.ref,
    name: r.name,
    version: r.version,
    sha256: r.sha256,
    status: r.status,
    held: r.held ?? '',
    startedAt: r.startedAt,
    endedAt: r.endedAt ?? '',
    stop: r.at,
    waitsFor: r.waitsFor.map((p) => p.name).join('; '),
    days: days(r).toFixed(2),
  })),
)
function takeOut() {
  const all = rows.value
  saveText(`${page.value!.route.name}.csv`, csvOf([Object.keys(all[0] ?? {}), ...all.map((r) => Object.values(r))]), 'text/csv')
}
const takeOutLines = () =>
  saveText(`${page.value!.route.name}.jsonl`, rows.value.map((r) => JSON.stringify(r)).join('\n'), 'application/jsonl')
</script>

<template>
  <main id="content" class="plain">
    <Failed v-if="error && !page" :error="error" @again="refetch()" />
    <p v-else-if="!page" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <p class="small">
        <RouterLink class="go" to="/decisions">{{ t('decisions.title') }}</RouterLink>
      </p>
      <header>
        <div>
          <h1>{{ t('routes.list.title', { name: page.route.name }) }}</h1>
          <p class="terms">
            {{
              t('routes.list.summary', {
                held: page.route.held,
                going: page.route.going,
                done: page.route.done,
              })
            }}
          </p>
        </div>
        <div class="acts">
          <RouterLink class="btn btn-plain" :to="`/routes/${id}`">{{ t('routes.theRoute') }}</RouterLink>
          <button v-if="page.runs.length" type="button" class="btn btn-plain" @click="takeOut">{{ t('routes.list.csv') }}</button>
          <button v-if="page.runs.length" type="button" class="btn btn-text" @click="takeOutLines">{{ t('routes.list.jsonl') }}</button>
        </div>
      </header>
      <p v-if="!page.runs.length" class="empty">{{ t('routes.list.none') }}</p>
      <div v-else class="wide">
        <table :style="{ '--stops': columns }">
          <thead>
            <tr>
              <th scope="col" class="what">
                {{ t('routes.list.document') }}
                <small>{{ t('routes.list.how') }}. {{ t('routes.list.workingDays') }}.</small>
              </th>
              <th v-for="s in page.times" :key="s.number" scope="col">
                <i>{{ s.number }}</i>
                {{ t(`decisions.do.${s.do}`) }}
                <template v-if="s.n">
                  <span class="plot" aria-hidden="true">
                    <b :style="{ width: `${(s.half / scale(s)) * 100}%` }"></b>
                    <u :style="{ width: `${(s.most / scale(s)) * 100}%` }"></u>
                    <s v-if="s.given" :style="{ left: `${(s.given / scale(s)) * 100}%` }"></s>
                  </span>
                  <small>{{ t('routes.list.half', { half: said.number(s.half, 1), most: said.number(s.most, 1) }) }}</small>
                </template>
              </th>
              <th scope="col">{{ t('routes.list.waits') }}</th>
            </tr>
          </thead>
          <tbody v-for="p in parts.filter((x) => x.runs.length)" :key="p.key">
            <tr class="part">
              <th :colspan="columns + 2" scope="rowgroup">
                {{ t(`routes.list.${p.key}`) }}
                <span class="quiet">{{ p.runs.length }}</span>
              </th>
            </tr>
            <tr v-for="r in p.runs" :key="r.id" :data-run="r.ref">
              <td class="what">
                <RouterLink :to="`/decisions/${r.id}`">{{ stemOf(r.name) }}</RouterLink>
                <small class="no">{{ r.ref }}, v. {{ r.version }}</small>
              </td>
              <td v-for="s in page.times" :key="s.number" class="dot" :class="r.stops[s.number - 1]?.state">
                <i aria-hidden="true"></i>
                <small v-if="r.stops[s.number - 1]?.state === 'passed'">{{ said.number(r.stops[s.number - 1]!.days ?? 0, 1) }}</small>
              </td>
              <td class="waits">
                {{ r.status === 'held' ? words.why(r) : words.stands(r, true) }}
                <small :title="said.full(r.endedAt ?? r.since)">
                  {{ r.endedAt ? t('routes.list.inAll', { days: said.number(days(r), 1) }) : said.when(r.since) }}
                </small>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <section v-if="page.load.length">
        <h2>{{ t('routes.list.load') }}</h2>
        <p v-for="l in page.load" :key="l.name" class="load">
          <b>{{ l.name }}</b>
          {{ t('routes.list.loadWaits', { n: l.waits }, l.waits) }}{{ l.late ? `, ${t('routes.list.loadLate', { n: l.late })}` : '' }}
          <span v-if="l.n" class="small quiet">
            {{ t('routes.list.loadTook', { half: said.number(l.half, 1), most: said.number(l.most, 1) }) }}
          </span>
        </p>
      </section>
    </template>
  </main>
</template>

<style scoped>
.wide {
  overflow-x: auto;
  margin-top: var(--tb-s3);
}
table {
  width: 100%;
  min-width: calc(400px + var(--stops) * 104px);
  border-collapse: collapse;
}
th,
td {
  text-align: left;
  vertical-align: top;
  padding: 7px 10px 7px 0;
  font-weight: 400;
}
thead th {
  border-bottom: 1px solid var(--tb-ink);
}
.what {
  width: 220px;
}
.what a {
  font-weight: 560;
}
small {
  display: block;
  color: var(--tb-quiet);
}
th i {
  display: inline-block;
  min-width: 20px;
  height: 20px;
  line-height: 20px;
  text-align: center;
  border-radius: 10px;
  background: var(--tb-ink);
  color: var(--tb-sheet);
  font-style: normal;
  font-size: var(--tb-small);
}
.plot {
  position: relative;
  display: block;
  height: 10px;
  width: 90px;
  margin: 4px 0;
}
.plot b,
.plot u,
.plot s {
  position: absolute;
  left: 0;
}
.plot b {
  top: 2px;
  height: 6px;
  background: var(--tb-ink);
}
.plot u {
  top: 5px;
  border-top: 1px solid var(--tb-ink);
}
.plot s {
  top: 0;
  bottom: 0;
  border-left: 1px dashed var(--tb-edge);
}
.part th {
  padding-top: var(--tb-s4);
  font-weight: 560;
  border-bottom: 1px solid var(--tb-rule);
}
tbody td {
  border-bottom: 1px solid var(--tb-line);
}
.dot {
  position: relative;
  min-width: 96px;
}
.dot i {
  display: block;
  width: 11px;
  height: 11px;
  margin-top: 6px;
  border: 1px solid var(--tb-edge);
  border-radius: 50%;
  background: var(--tb-page);
  position: relative;
}
.dot::before {
  content: '';
  position: absolute;
  top: 18px;
  left: 0;
  right: 0;
  border-top: 1px dashed var(--tb-edge);
}
.dot:nth-last-child(2)::before {
  display: none;
}
.passed::before {
  border-top: 2px solid var(--tb-ink);
}
.passed i {
  background: var(--tb-ink);
  border-color: var(--tb-ink);
}
.now i,
.back i {
  background: var(--tb-action);
  border-color: var(--tb-action);
}
.held i {
  border-radius: 0;
  background: var(--tb-ink);
  border-color: var(--tb-ink);
}
.waits {
  min-width: 180px;
  font-size: var(--tb-small);
}
section {
  margin-top: var(--tb-s5);
}
.load {
  margin: 0;
  padding: 4px 0;
}
</style>
