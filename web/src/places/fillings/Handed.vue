<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { answerWords } from '../../parts/filling/word'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDossier } from '../../queries/dossiers'
import { useFillable, useRegister } from '../../queries/fillings'
import { useSaid } from '../../sentences/said'
import { stemOf } from '../../i18n/words'

/** What was handed in with a form: a row for each, a column for each field. */
const props = defineProps<{ document: string }>()
const { t, locale } = useI18n()
const said = useSaid()
const { data: pages, error, refetch, hasNextPage, fetchNextPage, isFetchingNextPage } = useRegister(() => props.document)
const { data: form } = useFillable(() => props.document)
const first = computed(() => pages.value?.pages[0])
const place = computed(() => first.value?.place)
const rows = computed(() => pages.value?.pages.flatMap((p) => p.rows) ?? [])
/** What the form asks, and what older rows answered that it does not ask any more. */
const columns = computed(() => {
  const all = new Map<string, Schemas['FillingColumn']>()
  for (const p of pages.value?.pages ?? []) for (const c of p.columns) if (!all.has(c.id)) all.set(c.id, c)
  return [...all.values()]
})
const code = computed(() => place.value?.dossierCode ?? '')
const { data: body } = useDossier(code, undefined, undefined, () => !!code.value)
const folders = computed(() => [
  { value: '', words: t('fillings.filedHere') },
  ...(body.value?.folders ?? []).filter((f) => f.may.includes('add')).map((f) => ({ value: f.id, words: `${f.number} ${f.name}` })),
])
const { act, busy, wrong } = useAct()
const folder = computed({
  get: () => (form.value?.folder && folders.value.some((f) => f.value === form.value?.folder?.id) ? form.value.folder.id : ''),
  set: (id) =>
    void act(() =>
      api.PUT('/documents/{id}/fillable/folder', { params: { path: { id: props.document } }, body: { folder: id || undefined } }),
    ),
})
const takeUp = (r: Schemas['FillingRow']) =>
  act(() => api.POST('/documents/{id}/fillings/{filling}/taken', { params: { path: { id: props.document, filling: r.id } } }), {
    done: t('fillings.took', { n: r.number }),
  })
const shown = (c: Schemas['FillingColumn'], r: Schemas['FillingRow']) => {
  const value = r.answers[c.id] ?? ''
  if (c.kind === 'tick') return value ? '✓' : ''
  return answerWords({ ...c, must: false, answer: value }, value, locale.value)
}
const picked = ref<string>()
</script>

<template>
  <main id="content" class="plain handed">
    <Failed v-if="error && !first" :error="error" @again="refetch()" />
    <p v-else-if="!first" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <header>
        <div>
          <h1>{{ stemOf(place!.name) }}</h1>
          <p class="terms">
            {{ t('fillings.summary', { n: said.count(form?.handed ?? rows.length) }, form?.handed ?? rows.length) }}
            <template v-if="form?.fresh">
              {{ ' ' }}
              <b>{{ t('fillings.fresh', { n: form.fresh }) }}.</b>
            </template>
            {{ ' ' }}
            <template v-if="form && form.fields > 0">
              {{ t('fillings.filed') }}
              <SentenceSelect v-model="folder" :label="t('fillings.filed')" :options="folders" then="." />
            </template>
          </p>
        </div>
        <div class="acts">
          <a v-if="rows.length" class="btn btn-plain" :href="`/api/documents/${document}/fillings.csv`" download>
            {{ t('fillings.asFile') }}
          </a>
          <RouterLink class="btn btn-plain" :to="`/d/${place!.ref}`">{{ t('fillings.toForm') }}</RouterLink>
        </div>
      </header>
      <p v-if="form?.onlookers" class="t-caution small">{{ t('fillings.onlookers', { n: said.count(form.onlookers) }, form.onlookers) }}</p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <p v-if="first.begun.length" class="small">
        {{ t('fillings.begun', { n: said.count(first.begun.length) }, first.begun.length) }}
        <span v-for="(b, i) in first.begun" :key="i" class="quiet">
          {{ `${b.name || b.email || t('fillings.somebody')}, ${said.when(b.at)}${i < first.begun.length - 1 ? '; ' : '.'}` }}
        </span>
      </p>
      <div v-if="form && !form.fields && !rows.length" class="empty">
        <h2>{{ t('fillings.none') }}</h2>
        <p>{{ t('fillings.noForm') }}</p>
        <RouterLink class="btn btn-plain" :to="`/write/${document}`">{{ t('writing.verb') }}</RouterLink>
      </div>
      <div v-else-if="!rows.length" class="empty">
        <h2>{{ t('fillings.none') }}</h2>
        <p>{{ t('fillings.noneHint') }}</p>
        <RouterLink class="btn btn-plain" :to="`/d/${place!.ref}`">{{ t('fillings.toForm') }}</RouterLink>
      </div>
      <div v-else class="across" tabindex="0" role="region" :aria-label="t('fillings.title')">
        <table class="answers">
          <thead>
            <tr>
              <th scope="col" class="no">{{ t('fillings.number') }}</th>
              <th scope="col">{{ t('fillings.by') }}</th>
              <th v-for="c in columns" :key="c.id" scope="col" :class="{ gone: c.gone, right: c.kind === 'number' }">
                {{ c.label }}
                <span v-if="c.gone" class="small quiet">{{ t('fillings.gone') }}</span>
              </th>
              <th scope="col">{{ t('fillings.state') }}</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="r in rows" :key="r.id" :class="{ fresh: !r.takenAt, chosen: picked === r.id }" @click="picked = r.id">
              <td class="no">{{ r.number }}</td>
              <th scope="row">
                <RouterLink v-if="r.paper" :to="`/d/${r.paper.ref}`" class="name">
                  {{ r.name || r.email || t('fillings.somebody') }}
                </RouterLink>
                <span v-else>{{ r.name || r.email }}</span>
                <br />
                <span class="small quiet">
                  {{ said.when(r.handedAt) }}{{ r.known ? `, ${t(`fillings.known.${r.known}`)}` : ''
                  }}{{ r.link ? `, ${t('fillings.through', { link: r.link })}` : '' }}
                </span>
              </th>
              <td v-for="c in columns" :key="c.id" :class="{ right: c.kind === 'number' }" :data-of="c.label">
                <span class="value">{{ shown(c, r) }}</span>
              </td>
              <td class="state">
                <span v-if="r.takenAt" class="small quiet">
                  {{ t('fillings.taken', { who: r.takenBy ?? '', at: said.when(r.takenAt) }) }}
                </span>
                <button
                  v-else
                  type="button"
                  class="btn btn-plain btn-small"
                  :disabled="busy"
                  :title="t('fillings.takeUpWhy')"
                  @click.stop="takeUp(r)"
                >
                  {{ t('fillings.takeUp') }}
                </button>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p v-if="hasNextPage">
        <button type="button" class="btn btn-plain" :disabled="isFetchingNextPage" @click="fetchNextPage()">
          {{ t('fillings.more') }}
        </button>
      </p>
    </template>
  </main>
</template>

<style scoped>
.across {
  overflow-x: auto;
}
.answers {
  border-collapse: collapse;
  width: 100%;
  font-size: var(--tb-text);
}
.answers th,
.answers td {
  text-align: left;
  vertical-align: top;
  padding: 8px 16px 8px 0;
  border-bottom: 1px solid var(--tb-line);
  font-weight: inherit;
}
.answers thead th {
  font-size: var(--tb-small);
  color: var(--tb-quiet);
  border-bottom-color: var(--tb-ink);
  max-width: 220px;
}
.answers .right {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.answers tbody th {
  min-width: 220px;
}
.answers td[data-of],
.answers thead th {
  min-width: 104px;
}
.answers .no {
  min-width: 40px;
}
/* Whose row it is stays in sight while the answers are scrolled. */
.answers th:nth-child(2) {
  position: sticky;
  left: 0;
  background: var(--tb-page);
}
/* What nobody has taken up is told by its weight. */
.fresh .name {
  font-weight: 650;
}
.value {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  line-clamp: 3;
  overflow: hidden;
  max-width: 280px;
  white-space: pre-line;
  overflow-wrap: break-word;
}
.chosen .value {
  -webkit-line-clamp: unset;
  line-clamp: unset;
}
.state {
  white-space: nowrap;
}
@media (max-width: 800px) {
  .answers thead {
    position: absolute;
    clip-path: inset(50%);
    width: 1px;
    height: 1px;
    overflow: hidden;
  }
  .answers tr {
    display: grid;
    grid-template-columns: 40px minmax(0, 1fr);
    border-bottom: 1px solid var(--tb-rule);
    padding: 8px 0;
  }
  .answers th,
  .answers td {
    border: 0;
    padding: 2px 0;
  }
  .answers td[data-of],
  .answers .state {
    grid-column: 2;
    text-align: left;
  }
  .answers td[data-of]::before {
    content: attr(data-of) ': ';
    color: var(--tb-quiet);
    font-size: var(--tb-small);
  }
  .value {
    display: inline;
  }
}
</style>
