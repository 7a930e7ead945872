<script setup lang="ts">
import { useInHand } from '../../queries/checkout'
import { useToday } from '../../queries/today'
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import { daysBetween, stemOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import EventWords from '../../sentences/EventWords.vue'
import OnMe from '../decisions/OnMe.vue'
import FromOutside from './FromOutside.vue'
import StoragePlot from './StoragePlot.vue'
import Failed from '../../app/Failed.vue'

const { t, locale } = useI18n()
const said = useSaid()
const store = useSession()
const { data: today, error, refetch } = useToday()
const { data: inHand } = useInHand()
/** What there is of one's own. */
const own = computed(() => {
  const mine = today.value?.mine
  if (!mine) return ''
  const { used, limit } = mine.storage
  return t(limit ? 'today.ownOf' : 'today.own', {
    documents: t('common.documents', { n: mine.documents }, mine.documents),
    links: t('today.waysOut', { n: mine.links }, mine.links),
    storage: said.size(used),
    limit: said.size(limit ?? 0),
  })
})
const { act } = useAct()
/** A week more, from the end that was set. */
const prolong = (g: Schemas['Grant']) =>
  act(
    () =>
      api.PUT('/access/{id}', {
        params: { path: { id: g.id } },
        body: {
          version: g.version,
          level: g.level,
          may: g.level === 'own-set' ? g.may?.filter((m) => m !== 'share') : undefined,
          onward: g.onward,
          until: new Date(Date.parse(g.until!) + 7 * 86_400_000).toISOString(),
        },
      }),
    { done: t('today.prolonged', { who: g.name }), aloud: true },
  )
const answer = (r: Schemas['Request'], give: boolean) =>
  act(() => api.POST('/requests/{id}', { params: { path: { id: r.id } }, body: { give } }), {
    done: t(give ? 'today.isIn' : 'today.isNot', { who: r.person }),
    aloud: true,
  })
/** How much is new in a dossier since one looked before. */
const fresh = (code: string) => today.value?.since?.dossiers[code] ?? 0
const freshWords = computed(() => {
  const since = today.value?.since
  if (!since) return ''
  const n = Object.values(since.dossiers).reduce((a, b) => a + b, 0)
  return t(since.more ? 'today.sinceMore' : 'today.since', { n, when: said.when(since.at) }, n)
})
/** What is in one's hand stands there already. */
const work = computed(() => today.value?.work.filter((w) => !inHand.value?.some((h) => h.id === w.place.id)) ?? [])
/** What is in sight has been looked at. */
watch(
  () => today.value?.news[0]?.id,
  (event) => event !== undefined && void api.PUT('/today/look', { body: { event } }),
  { immediate: true },
)
const title = computed(() =>
  said.now.value.toLocaleDateString(locale.value === 'de' ? 'de-DE' : 'en-GB', {
    weekday: 'long',
    day: 'numeric',
    month: 'long',
    timeZone: store.timezone,
  }),
)
const summary = computed(() => {
  const d = today.value
  if (!d) return ''
  return t('today.summary', {
    dossiers: t('today.dossiers', { n: said.count(d.dossiers.length).toLowerCase() }, d.dossiers.length),
    links: d.endsSoon.length ? t('today.links', { n: said.count(d.endsSoon.length) }, d.endsSoon.length) : t('today.noLinks'),
  })
})
/** Two weeks, with how many links end on each day. */
const ruler = computed(() =>
  Array.from({ length: 15 }, (_, i) => {
    const day = new Date(said.now.value.getTime() + i * 86_400_000)
    const ends = (today.value?.endsSoon ?? []).filter(
      (l) => l.until && daysBetween(said.now.value, new Date(l.until), store.timezone) === i,
    )
    return {
      day: day.toLocaleDateString('en-GB', { day: 'numeric', timeZone: store.timezone }),
      weekend: [0, 6].includes(day.getUTCDay()),
      ends: ends.length,
    }
  }),
)
</script>

<template>
  <main id="content" class="plain today">
    <header>
      <div>
        <h1>{{ title }}</h1>
        <p class="terms">{{ summary }}</p>
      </div>
    </header>
    <Failed v-if="error && !today" :error="error" @again="refetch()" />
    <div v-else-if="today" class="two">
      <div>
        <OnMe v-if="today" :runs="today.onMe" :papers="today.toSign" />
        <FromOutside v-if="store.session?.standing !== 'guest'" />
        <section>
          <h2 class="sides">
            {{ t('today.mine') }}
            <RouterLink class="small" to="/deleted">{{ t('deletion.byMeLink') }}</RouterLink>
          </h2>
          <ul class="bodies">
            <li v-for="d in today.dossiers.slice(0, 8)" :key="d.id">
              <RouterLink :to="`/dossiers/${d.code}`">
                <Door v-bind="d.door" />
                <span class="no quiet">{{ d.code }}</span>
                <span class="what">
                  <b class="terms">{{ d.name }}</b>
                  <span v-if="fresh(d.code)" class="fresh small">{{ t('today.fresh', { n: fresh(d.code) }) }}</span>
                  <span class="small quiet">{{ [d.subject, d.client].filter(Boolean).join(', ') || t(`dossiers.${d.kind}`) }}</span>
                </span>
                <span v-if="d.lastEvent" class="last small">
                  {{
                    t(`eventShort.${d.lastEvent.kind.replace('.', '_')}`, {
                      actor: said.first(d.lastEvent),
                      version: d.lastEvent.version,
                      person: d.lastEvent.data?.person,
                    })
                  }}
                  <span class="quiet" :title="said.full(d.lastEvent.at)">{{ said.when(d.lastEvent.at) }}</span>
                </span>
              </RouterLink>
            </li>
          </ul>
          <p v-if="!today.dossiers.length" class="quiet">
            {{ t('dossiers.empty') }}
            <RouterLink to="/dossiers">{{ t('dossiers.make') }}</RouterLink>
          </p>
        </section>
        <section v-if="inHand?.length">
          <h2>{{ t('checkout.inHand') }}</h2>
          <ul class="held">
            <li v-for="h in inHand" :key="h.id">
              <span class="no quiet">{{ h.ref }}</span>
              <RouterLink :to="`/d/${h.ref}`">{{ stemOf(h.name) }}</RouterLink>
              <span class="small quiet">
                {{ h.held.note }}
                {{ h.held.back ? t('checkout.backBy', { when: said.when(h.held.back) }) : said.when(h.held.since) }}
              </span>
            </li>
          </ul>
        </section>
        <section>
          <h2 class="sides">
            {{ t('today.news') }}
            <span v-if="freshWords" class="small quiet">{{ freshWords }}</span>
          </h2>
          <ul class="news">
            <li v-for="e in today.news" :key="e.id">
              <time :datetime="e.at" :title="said.full(e.at)">{{ said.when(e.at) }}</time>
              <EventWords :event="e" />
              <span class="no quiet">{{ e.dossierCode }}</span>
            </li>
          </ul>
          <p v-if="!today.news.length" class="quiet">{{ t('today.newsNone') }}</p>
          <p class="small more">
            <RouterLink to="/activity">{{ t('today.seeAll') }}</RouterLink>
            <span class="quiet">
              {{ t('today.storage', { size: said.size(today.bytes) }) }}
              <template v-if="today.storageLeft !== undefined">
                {{ t('today.storageLeft', { size: said.size(today.storageLeft) }) }}
              </template>
            </span>
          </p>
          <p v-if="own" class="small quiet">{{ own }}</p>
          <StoragePlot :dossiers="today.dossiers" />
        </section>
      </div>
      <div>
        <section class="soon">
          <h2>{{ t('today.ends') }}</h2>
          <div class="ruler" role="img" :aria-label="t('today.ruler')">
            <span v-for="(r, i) in ruler" :key="i" :class="{ we: r.weekend, now: i === 0 }">
              <span class="marks"><i v-for="n in r.ends" :key="n"></i></span>
              {{ r.day }}
            </span>
          </div>
          <ul>
            <li v-for="l in today.endsSoon" :key="l.id">
              <RouterLink :to="`/outward?link=${l.id}`">
                <Door state="open" />
                <span>
                  <b>{{ l.name }}</b>
                  <span class="small quiet">
                    {{
                      l.openingsLimit
                        ? t('outward.opensOf', { n: l.openings, limit: l.openingsLimit })
                        : l.openings
                          ? t('outward.opens', { n: l.openings }, l.openings)
                          : t('outward.never')
                    }}
                  </span>
                </span>
                <span class="r">
                  <span :title="l.until && said.full(l.until)">{{ l.until && said.when(l.until) }}</span>
                  <span class="small quiet">{{ l.until && said.ahead(l.until) }}</span>
                </span>
              </RouterLink>
            </li>
          </ul>
          <p v-if="!today.endsSoon.length" class="quiet">{{ t('today.endsNone') }}</p>
          <template v-if="today.accessEnds.length">
            <h2 class="sub">{{ t('today.accessEnds') }}</h2>
            <ul>
              <li v-for="g in today.accessEnds" :key="g.id" class="ending">
                <Door :state="g.outside ? 'ajar' : 'closed'" />
                <span>
                  <b>{{ g.kind === 'everyone' ? t('access.everyoneHere') : g.name }}</b>
                  <span class="small quiet">
                    {{ g.words }}, {{ g.itemName }}
                    <span class="no">{{ g.ref ?? g.code }}</span>
                  </span>
                </span>
                <span class="r">
                  <span :title="said.full(g.until!)">{{ said.when(g.until!) }}</span>
                  <button type="button" class="go small" @click="prolong(g)">{{ t('today.prolong') }}</button>
                </span>
              </li>
            </ul>
          </template>
          <template v-if="today.requests.length">
            <h2 class="sub">{{ t('today.requests') }}</h2>
            <ul>
              <li v-for="r in today.requests" :key="r.id" class="ending">
                <Door state="closed" />
                <span>
                  <b>{{ r.person }}</b>
                  <span class="small quiet">
                    {{ r.itemName }}
                    <span class="no">{{ r.ref ?? r.code }}</span>
                  </span>
                  <span v-if="r.message" class="small quiet">“{{ r.message }}”</span>
                </span>
                <span class="r">
                  <button type="button" class="go small" @click="answer(r, true)">{{ t('today.letIn') }}</button>
                  <button type="button" class="go small" @click="answer(r, false)">{{ t('today.notNow') }}</button>
                </span>
              </li>
            </ul>
          </template>
        </section>
        <section v-if="work.length">
          <h2>{{ t('today.work') }}</h2>
          <ul class="held work">
            <li v-for="w in work" :key="w.place.id">
              <span class="no quiet">{{ w.place.ref }}</span>
              <RouterLink :to="`/d/${w.place.ref}`">{{ stemOf(w.place.name) }}</RouterLink>
              <span class="small quiet" :title="said.full(w.last.at)">{{ said.when(w.last.at) }}</span>
            </li>
          </ul>
        </section>
      </div>
    </div>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>

<style scoped>
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 384px;
  gap: 0 48px;
  margin-top: var(--tb-s4);
}
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
}
.sides {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
.bodies .what {
  position: relative;
}
.bodies .what .fresh {
  position: absolute;
  top: 0;
  right: var(--tb-s3);
  font-weight: 560;
}
.sides .small,
.sides a {
  font-weight: 400;
}
.held li {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) auto;
  gap: var(--tb-s3);
  align-items: baseline;
  min-height: 34px;
  padding: 6px 0;
  border-bottom: 1px solid var(--tb-line);
}
@media (max-width: 900px) {
  .held li {
    grid-template-columns: 96px minmax(0, 1fr);
  }
  .held li > .small {
    grid-column: 2;
  }
}
section + section {
  margin-top: 18px;
}
.bodies a {
  display: grid;
  grid-template-columns: 48px 76px minmax(0, 1fr) 190px;
  align-items: center;
  padding: 3px 0 3px;
  border-bottom: 1px solid var(--tb-line);
  color: inherit;
  text-decoration: none;
  min-height: 44px;
  line-height: 19px;
}
.bodies a:hover,
.soon a:hover {
  background: var(--tb-selection);
}
.bodies .what > *,
.last > span,
.soon a > span > b,
.soon a > span > span {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.bodies .what b {
  font-weight: 560;
  font-size: var(--tb-lead);
  line-height: 20px;
}
.door {
  --tb-knob: var(--tb-page);
}
.news li {
  display: grid;
  grid-template-columns: 92px minmax(0, 1fr) 60px;
  gap: var(--tb-s1) var(--tb-s2);
  padding: 5px 0;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 18px;
}
.news time {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.news :deep(.x) {
  display: block;
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.news :deep(a) {
  color: var(--tb-ink);
  text-decoration: underline;
  text-decoration-color: var(--tb-rule);
  text-underline-offset: 3px;
}
.news :deep(b) {
  font-weight: 560;
}
.more {
  display: flex;
  justify-content: space-between;
  padding-top: var(--tb-s2);
}
.ruler {
  display: grid;
  grid-template-columns: repeat(15, 1fr);
  text-align: center;
  font-size: var(--tb-small);
  border-bottom: 1px solid var(--tb-line);
  padding: 6px 0 3px;
}
.ruler .marks {
  display: flex;
  flex-direction: column-reverse;
  align-items: center;
  gap: 2px;
  height: 30px;
  border-bottom: 1px solid var(--tb-rule);
  margin-bottom: 3px;
  overflow: hidden;
}
.ruler .marks i {
  width: 8px;
  height: 8px;
  background: var(--tb-bearer);
  flex: none;
}
.ruler .we {
  color: var(--tb-quiet);
}
.ruler .we .marks {
  border-bottom-style: dashed;
}
.ruler .now {
  font-weight: 650;
}
.soon a {
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr) auto;
  padding: 6px 0;
  border-bottom: 1px solid var(--tb-line);
  color: inherit;
  text-decoration: none;
  font-size: var(--tb-text);
  line-height: 19px;
}
.sub {
  margin-top: 18px;
}
.ending {
  display: grid;
  grid-template-columns: 32px minmax(0, 1fr) auto;
  padding: 6px 0;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 19px;
}
.ending b,
.ending .small {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
.ending .r .go {
  display: block;
  margin-left: auto;
  color: var(--tb-action);
}
.soon b {
  font-weight: 560;
}
.soon .r {
  text-align: right;
  white-space: nowrap;
}
.soon .r span {
  display: block;
}
@media (max-width: 900px) {
  .two {
    display: block;
  }
  .soon {
    margin-top: var(--tb-s6);
  }
  .bodies a {
    grid-template-columns: 44px 70px minmax(0, 1fr);
  }
  .last {
    display: none;
  }
  .news li {
    grid-template-columns: 1fr auto;
  }
  .news li > span:nth-child(2) {
    grid-row: 2;
    grid-column: 1 / 3;
  }
}
</style>
