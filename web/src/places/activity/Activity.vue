<script setup lang="ts">
import IconCaret from '~icons/ph/caret-down'
import { useActivity, type EventKind } from '../../queries/activity'
import { kinds } from '../../queries/news'
import { useDossier, useDossiers } from '../../queries/dossiers'
import { useEvidence } from '../../queries/evidence'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { useI18n } from 'vue-i18n'
import { Refusal, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import { daysBetween } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import EventWords from '../../sentences/EventWords.vue'
import Failed from '../../app/Failed.vue'
import { useDeletions } from '../../queries/deletion'
import { useDeletion } from '../deletion/acts'
import SealMark from '../evidence/SealMark.vue'
import KeptFilters from '../following/KeptFilters.vue'
import { folded, type Line } from './folding'

/** The stream by day; its filter is a sentence. */
const { t, locale } = useI18n()
const said = useSaid()
const store = useSession()
const abouts = ['everything', 'outside', 'documents', 'links'] as const
const sinces = ['always', 'today', 'week', 'month'] as const
const heeds = ['unmuted', 'followed', 'all'] as const
type Filter = Schemas['ActivityFilter']
const usual = { about: 'everything', heed: 'unmuted', kind: '', person: '', dossier: '', folder: '', since: 'always' } as const
/** What the sentence says; empty words narrow nothing. */
const filter = ref<Record<'person' | 'dossier' | 'folder', string> & Pick<Filter, 'about' | 'heed' | 'since'> & { kind: EventKind | '' }>({
  ...usual,
})
const route = useRoute()
if (typeof route.query.dossier === 'string') filter.value.dossier = route.query.dossier
if (typeof route.query.person === 'string') filter.value.person = route.query.person
/** A folder is one of the dossier. */
const dossier = computed({
  get: () => filter.value.dossier,
  set: (code) => Object.assign(filter.value, { dossier: code, folder: '' }),
})
const choose = (f: Filter) => (filter.value = { ...usual, ...f })
/** The filter as it is kept: without what narrows nothing. */
const kept = computed(() => Object.fromEntries(Object.entries(filter.value).filter(([, v]) => v)) as unknown as Filter)
const isUsual = computed(() => (Object.keys(usual) as (keyof typeof usual)[]).every((k) => filter.value[k] === usual[k]))
const from = computed(() => {
  const days = { always: undefined, today: 0, week: 7, month: 30 }[filter.value.since]
  if (days === undefined) return undefined
  const d = new Date(Date.now() - days * 86_400_000)
  d.setUTCHours(0, 0, 0, 0)
  return d.toISOString()
})
const { data: pages, error, fetchNextPage, hasNextPage, refetch } = useActivity(() => ({ ...kept.value, since: from.value }))
/** The list as a file, under the same filter. */
const exported = computed(() => {
  const all = { ...filter.value, since: from.value ?? '' }
  return new URLSearchParams(Object.entries(all).filter(([, v]) => v)).toString()
})
const { data: dossiers } = useDossiers()
const { data: chosenDossier } = useDossier(
  () => filter.value.dossier,
  undefined,
  undefined,
  () => !!filter.value.dossier,
)
const inside = computed(() => store.session?.standing !== 'guest')
const { data: log } = useEvidence(inside)
/** The first event that the newest checkpoint seals: the line stands above it. */
const sealed = computed(() => {
  const at = log.value?.checkpoint?.at
  return at && events.value.find((e) => Date.parse(e.at) <= Date.parse(at))?.id
})
const people = computed(() => pages.value?.pages[0]?.people ?? [])
const events = computed(() => pages.value?.pages.flatMap((p) => p.events) ?? [])
const words = computed(() => ({
  abouts: abouts.map((a) => ({ value: a, words: t(`activity.about.${a}`) })),
  heeds: heeds.map((h) => ({ value: h, words: t(`activity.heed.${h}`) })),
  folders: [
    { value: '', words: t('activity.anyFolder') },
    ...(chosenDossier.value?.folders ?? []).filter((f) => f.number).map((f) => ({ value: f.id, words: `${f.number} ${f.name}` })),
  ],
  kinds: [
    { value: '' as const, words: t('activity.everyKind') },
    ...kinds.map((k) => ({ value: k, words: t('activity.onlyKind', { what: t(`activity.kinds.${k.replace('.', '_')}`) }) })),
  ],
  people: [{ value: '', words: t('activity.anyone') }, ...people.value.map((p) => ({ value: p.id, words: p.name }))],
  dossiers: [
    { value: '', words: t('activity.anyDossier') },
    ...(dossiers.value ?? []).map((d) => ({ value: d.code, words: `${d.code} ${d.name}` })),
  ],
  sinces: sinces.map((s) => ({ value: s, words: t(`activity.sinceWords.${s}`) })),
}))
/** What can be brought back from its line, by the id of its deletion. */
const { data: deletions } = useDeletions({}, () => events.value.some((e) => e.data?.deletion))
const { bringBack, ask, busy } = useDeletion()
const deleted = computed(() => new Map(deletions.value?.pages.flatMap((p) => p.rows).map((r) => [r.id, r])))
const goneBy = (l: Line) => ('one' in l ? deleted.value.get(l.one.data?.deletion ?? '') : undefined)
const holds = (l: Line) => sealed.value !== undefined && ('one' in l ? [l.one] : l.all).some((e) => e.id === sealed.value)
const isGone = computed(() => error.value instanceof Refusal && error.value.problem.status === 404)
const first = (l: Line) => ('one' in l ? l.one : l.all[0])
/** Lines that are unfolded, by their first event. */
const opened = ref(new Set<number>())
const toggle = (id: number) => opened.value[opened.value.has(id) ? 'delete' : 'add'](id)
const clock = (at: string) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit', timeZone: store.timezone })
const days = computed(() => {
  const all: { name: string; events: Schemas['Event'][] }[] = []
  for (const e of events.value) {
    const at = new Date(e.at)
    const name = dayName(at)
    if (all.at(-1)?.name !== name) all.push({ name, events: [] })
    all.at(-1)?.events.push(e)
  }
  return all
})
function dayName(at: Date): string {
  const day = at.toLocaleDateString(locale.value === 'de' ? 'de-DE' : 'en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: store.timezone,
  })
  const ago = daysBetween(at, said.now.value, store.timezone)
  return ago === 0 ? t('activity.today', { day }) : ago === 1 ? t('activity.yesterday', { day }) : day
}
</script>

<template>
  <main id="content" class="plain act">
    <header>
      <div>
        <h1>{{ t('activity.title') }}</h1>
        <p class="terms sentence">
          {{ t('activity.showing') }}
          <SentenceSelect v-model="filter.about" :label="t('activity.showing')" :options="words.abouts" then="," />
          {{ ' ' }}
          <SentenceSelect v-model="filter.kind" :label="t('activity.kindLabel')" :options="words.kinds" then="," />
          {{ ' ' }}
          {{ t('activity.by') }}
          <SentenceSelect v-model="filter.person" :label="t('activity.by')" :options="words.people" />
          {{ t('activity.in') }}
          <SentenceSelect v-model="dossier" :label="t('activity.in')" :options="words.dossiers" />
          <template v-if="filter.dossier">
            {{ ' ' }}
            {{ t('activity.folderPart') }}
            <SentenceSelect v-model="filter.folder" :label="t('activity.inFolder')" :options="words.folders" />
          </template>
          {{ t('activity.since') }}
          <SentenceSelect v-model="filter.since" :label="t('activity.since')" :options="words.sinces" then="," />
          {{ ' ' }}
          <SentenceSelect v-model="filter.heed" :label="t('activity.heedLabel')" :options="words.heeds" then="." />
        </p>
        <KeptFilters :filter="kept" :usual="isUsual" @choose="choose" />
      </div>
      <div class="acts">
        <a class="go small" :href="`/api/activity.csv?${exported}`" download>CSV</a>
        <a class="go small" :href="`/api/activity.jsonl?${exported}`" download>JSON Lines</a>
        <RouterLink v-if="inside" class="btn btn-plain" :to="{ path: '/trail', query: { dossier: filter.dossier || undefined } }">
          {{ t('evidence.link') }}
        </RouterLink>
      </div>
    </header>
    <div v-if="error && !pages && isGone" class="quiet gone">
      <p>{{ t('activity.gone') }}</p>
      <button type="button" class="btn btn-plain" @click="choose(usual as unknown as Filter)">{{ t('activity.again') }}</button>
    </div>
    <Failed v-else-if="error && !pages" :error="error" @again="refetch()" />
    <p v-else-if="pages && !events.length" class="quiet" style="padding: 24px 0">{{ t('activity.none') }}</p>
    <section v-for="d in days" :key="d.name">
      <h2>{{ d.name }}</h2>
      <ul>
        <template v-for="l in folded(d.events)" :key="first(l).id">
          <li v-if="holds(l)" class="e seal quiet">
            <span></span>
            <SealMark done />
            <span>
              {{ t('activity.sealedUpTo', { n: said.count(log!.checkpoint!.size), when: said.when(log!.checkpoint!.at) }) }}
              <RouterLink class="go small" :to="{ path: '/trail', query: { dossier: filter.dossier || undefined } }">
                {{ t('evidence.link') }}
              </RouterLink>
            </span>
          </li>
          <li class="e" :data-kind="first(l).kind">
            <time :datetime="first(l).at" :title="said.full(first(l).at)">{{ clock(first(l).at) }}</time>
            <span class="d"><Door v-if="first(l).outside" state="open" /></span>
            <span v-if="'one' in l">
              <EventWords :event="l.one" />
              <template v-if="goneBy(l)">
                {{ ' ' }}
                <button v-if="goneBy(l)!.mayBringBack" type="button" class="go small" :disabled="busy" @click="bringBack([goneBy(l)!.id])">
                  {{ t('deletion.bringBack') }}
                </button>
                <button v-else type="button" class="go small" :disabled="busy" @click="ask(goneBy(l)!.id, goneBy(l)!.name)">
                  {{ t('deletion.ask') }}
                </button>
              </template>
            </span>
            <button v-else type="button" class="many" :aria-expanded="opened.has(first(l).id)" @click="toggle(first(l).id)">
              {{
                t(`activity.folded.${l.kind.replace('.', '_')}`, {
                  actor: first(l).actor || t('common.somebody'),
                  link: `“${first(l).linkName ?? ''}”`,
                  n: l.all.length,
                })
              }}
              <IconCaret aria-hidden="true" />
            </button>
            <RouterLink class="no quiet code" :to="`/dossiers/${first(l).dossierCode}`">{{ first(l).dossierCode }}</RouterLink>
          </li>
          <template v-if="'all' in l && opened.has(first(l).id)">
            <li v-for="e in l.all" :key="e.id" class="e within" :data-kind="e.kind">
              <time :datetime="e.at" :title="said.full(e.at)">{{ clock(e.at) }}</time>
              <span class="d"></span>
              <EventWords :event="e" />
            </li>
          </template>
        </template>
      </ul>
    </section>
    <button v-if="hasNextPage" type="button" class="btn btn-plain" style="margin: 14px 0" @click="fetchNextPage()">
      {{ t('common.more') }}
    </button>
  </main>
</template>

<style scoped>
.act {
  max-width: 1080px;
}
.sentence {
  font-size: var(--tb-large);
  line-height: 28px;
}
h2 {
  font-size: var(--tb-lead);
  line-height: 24px;
  padding: 12px 0 2px;
  border-bottom: 1px solid var(--tb-ink);
}
.e {
  display: grid;
  grid-template-columns: 52px 30px minmax(0, 1fr) 72px;
  align-items: start;
  font-size: var(--tb-text);
  line-height: 18px;
  min-height: 32px;
  border-bottom: 1px solid var(--tb-line);
  padding: 6px 0 5px;
}
.e time {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.e .d {
  margin-top: -2px;
}
.acts .go {
  white-space: nowrap;
}
.seal {
  font-size: var(--tb-small);
}
.gone {
  display: grid;
  justify-items: start;
  gap: var(--tb-s3);
  padding: var(--tb-s6) 0;
}
.many {
  text-align: left;
}
.within {
  padding-left: var(--tb-s4);
}
.e .code {
  text-align: right;
}
.e :deep(b) {
  font-weight: 560;
}
.e :deep(.x) {
  display: block;
  font-size: var(--tb-small);
  color: var(--tb-quiet);
}
.e :deep(.no) {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.e > :deep(span) a {
  color: var(--tb-ink);
  text-decoration: underline;
  text-decoration-color: var(--tb-rule);
  text-underline-offset: 3px;
}
@media (max-width: 900px) {
  .e {
    grid-template-columns: 44px 26px minmax(0, 1fr);
  }
  .many {
    text-align: left;
  }
  .within {
    padding-left: var(--tb-s4);
  }
  .e .code {
    display: none;
  }
}
</style>
