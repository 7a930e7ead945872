<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { Refusal, type Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import { useDossiers } from '../../queries/dossiers'
import { kinds, useAnswerCounts, useAnswers, useQuestions, type FoundOrder, type Question } from '../../queries/find'
import { useParticulars } from '../../queries/particulars'
import { useDirectory } from '../../queries/people'
import { useTags } from '../../queries/tags'
import FirstSight from './FirstSight.vue'
import Hit from './Hit.vue'
import KeptQuestions from './KeptQuestions.vue'

/** What answers a question, of all that I may see. The question is a sentence, and stands in the address. */
const { t, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const store = useSession()
type Kind = Schemas['FoundKind']
const spans = ['always', 'week', 'month', 'year'] as const
const sizes = ['', 'small', 'large'] as const
const megabyte = 1_000_000

const word = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
function set(more: Record<string, string | undefined>) {
  const query = { ...route.query, question: undefined, ...more }
  void router.push({ path: '/find', query: Object.fromEntries(Object.entries(query).filter(([, v]) => v)) })
}
const wordOf = (name: string) => computed({ get: () => word(name), set: (v) => set({ [name]: v || undefined }) })
const [dossier, kind, person, since, size, tag, where, value] = ['dossier', 'kind', 'person', 'since', 'size', 'tag', 'where', 'value'].map(
  wordOf,
)
const linked = computed({ get: () => word('linked'), set: (v) => set({ linked: v || undefined }) })
const states = ['review', 'approved', 'parties', 'signed', 'issued'] as const
const state = computed({ get: () => word('state'), set: (v) => set({ state: v || undefined }) })
const { data: defined } = useParticulars()
const order = computed({ get: () => (word('order') || 'best') as FoundOrder, set: (o) => set({ order: o === 'best' ? undefined : o }) })
const earlier = computed(() => word('earlier') === '1')
function from(span: string): string | undefined {
  const days = { week: 7, month: 30, year: 365 }[span]
  if (!days) return undefined
  const d = new Date(Date.now() - days * 86_400_000)
  d.setUTCHours(0, 0, 0, 0)
  return d.toISOString()
}
const question = computed<Question>(() => ({
  q: word('q'),
  tag: tag.value || undefined,
  where: (value.value && where.value) || undefined,
  value: (where.value && value.value) || undefined,
  linked: linked.value === '1' || undefined,
  state: states.find((s) => s === state.value),
  dossier: dossier.value || undefined,
  kind: kind.value ? [kind.value as Kind] : undefined,
  person: person.value || undefined,
  since: from(since.value),
  most: size.value === 'small' ? megabyte : undefined,
  least: size.value === 'large' ? 10 * megabyte : undefined,
  earlier: earlier.value || undefined,
}))

/** A kept question is asked by its id, as a notice does; or chosen. */
const { data: kept } = useQuestions()
/** The answer that is under the pointer, or has the focus: its page is shown beside. */
const near = ref<Schemas['FoundHit']>()
const wide = useMediaQuery('(min-width: 1200px)')
function choose(k: Schemas['KeptQuestion']) {
  const q = k.question
  const span = spans.find((s) => s !== 'always' && q.since && from(s)! <= q.since)
  const size = q.most ? 'small' : q.least ? 'large' : undefined
  const query = {
    q: q.q,
    tag: q.tag,
    where: q.where,
    value: q.value,
    linked: q.linked ? '1' : undefined,
    state: q.state,
    dossier: q.dossier,
    kind: q.kind?.[0],
    person: q.person,
    since: span,
    size,
    earlier: q.earlier ? '1' : undefined,
  }
  void router.push({ path: '/find', query: Object.fromEntries(Object.entries(query).filter(([, v]) => v)) })
}
watch(
  () => [word('question'), kept.value] as const,
  ([id, all]) => {
    const one = all?.find((k) => k.id === id)
    if (one) void router.replace({ path: '/find' }).then(() => choose({ ...one, question: { ...one.question } }))
  },
  { immediate: true },
)

const { data: pages, error, fetchNextPage, hasNextPage, isFetching, refetch } = useAnswers(question, order)
const { data: counts } = useAnswerCounts(question)
const hits = computed(() => pages.value?.pages.flatMap((p) => p.hits) ?? [])
const instead = computed(() => pages.value?.pages[0]?.instead)
const refused = computed(() => error.value instanceof Refusal && error.value.problem.status === 400)
const { data: dossiers } = useDossiers()
const names = computed(() => new Map(dossiers.value?.map((d) => [d.code, d.name])))
const inside = computed(() => store.session?.standing !== 'guest')
const { data: people } = useDirectory(inside)
const { data: tags } = useTags()
const words = computed(() => ({
  dossiers: [
    { value: '', words: t('find.anyDossier') },
    ...(dossiers.value ?? []).map((d) => ({ value: d.code, words: `${d.code} ${d.name}` })),
  ],
  kinds: [{ value: '', words: t('find.anyKind') }, ...kinds.map((k) => ({ value: k as string, words: t(`find.kind.${k}`) }))],
  people: [
    { value: '', words: t('find.anyone') },
    ...(people.value?.accounts ?? []).map((a) => ({ value: a.person.id, words: a.person.name })),
  ],
  spans: spans.map((s) => ({ value: s === 'always' ? '' : s, words: t(`find.span.${s}`) })),
  tags: [
    { value: '', words: t('find.anyTag') },
    ...(tags.value ?? []).map((g) => ({ value: g.id, words: t(g.own ? 'find.withOwnTag' : 'find.withTag', { name: g.name }) })),
  ],
  particulars: [
    { value: '', words: t('find.anyParticular') },
    ...(defined.value ?? []).map((p) => ({ value: p.id, words: t('find.particular', { name: p.name }) })),
  ],
  states: [
    { value: '', words: t('find.anyState') },
    ...states.map((s) => ({ value: s as string, words: t('find.inState', { state: t(`decisions.state.${s}`) }) })),
  ],
  links: [
    { value: '', words: t('dossier.only.anyReach') },
    { value: '1', words: t('dossier.only.linked') },
  ],
  sizes: sizes.map((s) => ({ value: s as string, words: t(`find.size.${s || 'any'}`) })),
  orders: (['best', 'newest'] as const).map((o) => ({ value: o, words: t(`find.order.${o}`) })),
}))
</script>

<template>
  <main id="content" class="plain found">
    <header>
      <div>
        <h1 class="visually-hidden">{{ t('find.title') }}</h1>
        <p class="terms sentence">
          {{ t('find.find') }}
          <WordField
            :label="t('find.words')"
            :value="question.q"
            :placeholder="t('find.words')"
            may
            @set="set({ q: $event || undefined })"
          />
          {{ ' ' }}
          {{ t('find.in') }}
          <SentenceSelect v-model="dossier" :label="t('find.in')" :options="words.dossiers" then="," />
          {{ ' ' }}
          {{ t('find.of') }}
          <SentenceSelect v-model="kind" :label="t('find.kindLabel')" :options="words.kinds" then="," />
          {{ ' ' }}
          <template v-if="inside">
            {{ t('find.by') }}
            <SentenceSelect v-model="person" :label="t('find.by')" :options="words.people" then="," />
            {{ ' ' }}
          </template>
          <SentenceSelect v-model="since" :label="t('find.when')" :options="words.spans" then="," />
          {{ ' ' }}
          <SentenceSelect v-model="size" :label="t('find.sizeLabel')" :options="words.sizes" then="," />
          <template v-if="tags?.length">
            {{ ' ' }}
            <SentenceSelect v-model="tag" :label="t('find.tagLabel')" :options="words.tags" then="," />
          </template>
          <template v-if="defined?.length">
            {{ ' ' }}
            <SentenceSelect
              v-model="where"
              :label="t('find.particularLabel')"
              :options="words.particulars"
              :then="where ? undefined : ','"
            />
            <template v-if="where">
              {{ ' ' }}
              <WordField :label="t('find.valueLabel')" :value="value" :placeholder="t('find.valueLabel')" may @set="value = $event" />
              {{ ',' }}
            </template>
          </template>
          {{ ' ' }}
          <SentenceSelect v-model="state" :label="t('find.stateLabel')" :options="words.states" then="," />
          {{ ' ' }}
          <SentenceSelect v-model="linked" :label="t('dossier.only.reach')" :options="words.links" then="." />
        </p>
        <div class="more small">
          <button type="button" class="go" :aria-pressed="earlier" @click="set({ earlier: earlier ? undefined : '1' })">
            {{ t(earlier ? 'find.withEarlier' : 'find.plusEarlier') }}
          </button>
          <RouterLink v-if="tags?.length" to="/tags" class="go">{{ t('tags.all') }}</RouterLink>
          <KeptQuestions :question="question" @choose="choose" />
        </div>
      </div>
    </header>
    <div class="columns">
      <nav v-if="counts?.total" class="counts small" :aria-label="t('find.counts')">
        <h2>{{ t('find.inDossiers') }}</h2>
        <ul>
          <li v-for="d in counts.dossiers" :key="d.code">
            <button type="button" :aria-pressed="d.code === dossier" @click="dossier = d.code === dossier ? '' : d.code">
              <span class="code">{{ d.code }}</span>
              <span class="what">{{ d.name }}</span>
              <span class="n">{{ d.n }}</span>
            </button>
          </li>
        </ul>
        <h2>{{ t('find.ofKinds') }}</h2>
        <ul>
          <li v-for="k in counts.kinds" :key="k.kind">
            <button type="button" :aria-pressed="k.kind === kind" @click="kind = k.kind === kind ? '' : k.kind">
              <span class="what">{{ t(`find.kind.${k.kind}`) }}</span>
              <span class="n">{{ k.n }}</span>
            </button>
          </li>
        </ul>
      </nav>
      <section :aria-busy="isFetching">
        <p v-if="!question.q && !tag && !question.where" class="quiet lead">{{ t('find.ask') }}</p>
        <p v-else-if="refused" class="quiet lead">{{ t(`problem.${(error as Refusal).problem.title}`) }}</p>
        <Failed v-else-if="error && !pages" :error="error" @again="refetch()" />
        <p v-else-if="pages && !hits.length" class="quiet lead">{{ t('find.none') }}</p>
        <template v-else-if="pages">
          <p class="tally">
            <b v-if="counts">
              {{ t(counts.more ? 'find.moreThan' : 'find.total', { n: counts.total.toLocaleString(locale) }, counts.total) }}
            </b>
            {{ t('find.seen') }}
            <span class="terms"><SentenceSelect v-model="order" :label="t('find.orderLabel')" :options="words.orders" then="." /></span>
            <span v-if="instead" class="t-caution">{{ t('find.instead', { words: instead }) }}</span>
          </p>
          <ul class="hits">
            <Hit
              v-for="h in hits"
              :key="`${h.place.id} ${h.version}`"
              :hit="h"
              :words="instead ?? question.q"
              :class="{ near: near === h }"
              @mouseenter="near = h"
              @focusin="near = h"
              :dossier-name="names.get(h.place.dossierCode)"
            />
          </ul>
          <button v-if="hasNextPage" type="button" class="btn btn-plain" @click="fetchNextPage()">{{ t('common.more') }}</button>
        </template>
        <p v-else class="quiet lead">{{ t('common.loading') }}</p>
      </section>
      <FirstSight v-if="near && wide" :hit="near" :words="instead ?? question.q" class="sight" />
    </div>
  </main>
</template>

<style scoped>
.found {
  max-width: 1160px;
}
.sentence {
  font-size: var(--tb-large);
  line-height: 28px;
}
.more {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--tb-s1) var(--tb-s4);
}
[aria-pressed='true'] {
  font-weight: 560;
  color: var(--tb-ink);
}
.columns {
  display: grid;
  grid-template-columns: 224px minmax(0, 1fr);
  gap: var(--tb-s5);
  padding-top: var(--tb-s3);
}
.columns > section {
  grid-column: 2;
}
.counts h2 {
  font-size: var(--tb-text);
  padding: 0 0 4px;
  border-bottom: 1px solid var(--tb-line);
}
.counts ul {
  padding-bottom: var(--tb-s4);
}
.counts button {
  display: flex;
  gap: 8px;
  width: 100%;
  min-height: 26px;
  align-items: baseline;
  text-align: left;
  color: var(--tb-ink);
}
.counts [aria-pressed='true'] {
  background: var(--tb-selection);
}
.counts .what {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.counts .n {
  font-variant-numeric: tabular-nums;
  color: var(--tb-quiet);
}
.tally {
  padding-bottom: var(--tb-s2);
  border-bottom: 1px solid var(--tb-ink);
}
.lead {
  padding: 24px 0;
}
@media (min-width: 1200px) {
  .columns:has(.sight) {
    grid-template-columns: 200px minmax(0, 1fr) 300px;
  }
}
.sight {
  position: sticky;
  top: var(--tb-s3);
  align-self: start;
}
@media (max-width: 900px) {
  .columns {
    grid-template-columns: minmax(0, 1fr);
  }
  .columns > section {
    grid-column: 1;
    grid-row: 1;
  }
}
</style>
