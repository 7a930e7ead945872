<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import IconBack from '~icons/ph/arrow-left'
import type { Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import { useThing } from '../../app/title'
import { stemOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import { useEvidence, useTrail, type Subject } from '../../queries/evidence'
import EventWords from '../../sentences/EventWords.vue'
import { useSaid } from '../../sentences/said'
import Bundle from './Bundle.vue'
import LogState from './LogState.vue'
import Proof from './Proof.vue'
import SealMark from './SealMark.vue'

/** What happened to a document, by a link or in a dossier, under the checkpoints that hold it; and what proves it. */
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const word = (key: string) => (typeof route.query[key] === 'string' ? (route.query[key] as string) : undefined)
const of = computed<Subject>(() => {
  const named = { item: word('item'), link: word('link'), dossier: word('dossier') }
  return named.item || named.link || named.dossier ? named : { since: word('since') ?? '2000-01-01T00:00:00Z' }
})
const { data: log } = useEvidence()
const { data: pages, error, refetch, fetchNextPage, hasNextPage } = useTrail(of)
const events = computed(() => pages.value?.pages.flatMap((p) => p.events) ?? [])
const seals = computed(() => new Map(pages.value?.pages.flatMap((p) => p.seals).map((s) => [s.event, s])))
/** Events under the checkpoint that was the first to hold them; the newest may wait for theirs. */
const groups = computed(() => {
  const all: { seal?: Schemas['Seal']; events: Schemas['Event'][] }[] = []
  for (const e of events.value) {
    const seal = seals.value.get(e.id)
    if (!all.length || all.at(-1)!.seal?.size !== seal?.size) all.push({ seal, events: [] })
    all.at(-1)!.events.push(e)
  }
  return all
})
const picked = ref<number>()
const shown = computed(() => picked.value ?? events.value.find((e) => seals.value.has(e.id))?.id)

/** What it is the trail of, by the events themselves. */
const subject = computed(() => {
  const e = events.value.find((x) => (of.value.item ? x.itemId === of.value.item : of.value.link ? x.linkId === of.value.link : true))
  if (!e) return undefined
  if (of.value.item)
    return {
      name: stemOf(e.itemName ?? e.dossierName),
      code: e.ref ?? e.dossierCode,
      to: e.ref ? `/d/${e.ref}` : `/dossiers/${e.dossierCode}`,
    }
  if (of.value.link) return { name: `“${e.linkName ?? ''}”`, code: e.dossierCode, to: `/dossiers/${e.dossierCode}` }
  if (of.value.dossier) return { name: e.dossierName, code: e.dossierCode, to: `/dossiers/${e.dossierCode}` }
  return { name: t('evidence.practice'), code: '', to: '/activity' }
})
useThing(() => (subject.value ? t('evidence.title', { what: subject.value.name }) : ''))
const waiting = computed(() => events.value.filter((e) => !seals.value.has(e.id)).length)
</script>

<template>
  <main id="content" class="trail-page">
    <section class="list">
      <header>
        <RouterLink v-if="subject" class="go small" :to="subject.to">
          <IconBack class="i i-s" aria-hidden="true" />
          {{ subject.code || t('evidence.toActivity') }}
        </RouterLink>
        <h1>{{ subject ? t('evidence.title', { what: subject.name }) : t('evidence.heading') }}</h1>
        <p v-if="events.length" class="terms">
          {{ t(hasNextPage ? 'evidence.newest' : 'evidence.count', { n: said.count(events.length) }, events.length) }}
          <b>{{ waiting ? t('evidence.waiting', { n: said.count(waiting) }, waiting) : t('evidence.allSealed') }}</b>
        </p>
      </header>
      <Failed v-if="error && !pages" :error="error" @again="refetch()" />
      <p v-else-if="!pages" class="quiet">{{ t('common.loading') }}</p>
      <p v-else-if="!events.length" class="quiet">{{ t('evidence.none') }}</p>
      <div v-for="g in groups" :key="g.events[0].id" class="group" :class="{ open: !g.seal }">
        <h2>
          <SealMark :done="!!g.seal" />
          <span v-if="g.seal">
            <b>{{ t('evidence.sealed') }}</b>
            {{ t('evidence.upTo', { when: said.when(g.seal.at), n: said.count(g.seal.size) }) }}
          </span>
          <span v-else>
            <b>{{ t('evidence.notYet') }}</b>
            {{ t('evidence.soon') }}
          </span>
        </h2>
        <ol>
          <li v-for="e in g.events" :key="e.id" :class="{ on: e.id === shown }">
            <button
              type="button"
              class="no place"
              :aria-pressed="e.id === shown"
              :disabled="!g.seal"
              :title="t('evidence.how')"
              @click="picked = e.id"
            >
              {{ seals.get(e.id)?.place ?? '–' }}
            </button>
            <time :datetime="e.at" :title="said.full(e.at)">{{ said.when(e.at) }}</time>
            <span class="d"><Door v-if="e.outside" state="open" /></span>
            <EventWords :event="e" />
          </li>
        </ol>
      </div>
      <button v-if="hasNextPage" type="button" class="btn btn-plain more" @click="fetchNextPage()">{{ t('common.more') }}</button>
    </section>
    <aside v-if="log" :aria-label="t('evidence.proof')">
      <LogState :log="log" />
      <Proof v-if="shown !== undefined && seals.has(shown)" :event="shown" />
      <Bundle v-if="events.length" :of="of" :events="events" :more="!!hasNextPage" />
    </aside>
  </main>
</template>

<style scoped>
.trail-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 420px;
  min-height: 100%;
  flex: 1;
}
.list {
  padding: var(--tb-s4) var(--tb-s5);
  min-width: 0;
}
aside {
  background: var(--tb-sheet);
  border-left: 1px solid var(--tb-action);
}
.list header {
  margin-bottom: var(--tb-s3);
}
aside :deep(.acts) {
  margin: var(--tb-s2) 0;
}
aside > :deep(section) {
  padding: var(--tb-s4) var(--tb-s4) var(--tb-s3);
  border-bottom: 1px solid var(--tb-line);
}
h2 {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  font: inherit;
  font-size: var(--tb-small);
  border: solid var(--tb-line);
  border-width: 1px 0;
  margin: 0;
  padding: 6px 0;
}
.group ol {
  list-style: none;
  margin: 0 0 0 8px;
  padding: 0 0 0 12px;
  border-left: 2px solid var(--tb-done);
}
.group.open ol {
  border-left: 2px dashed var(--tb-quiet);
}
li {
  display: grid;
  grid-template-columns: 48px 96px 30px minmax(0, 1fr);
  align-items: start;
  padding: 5px 0;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 18px;
}
li:last-child {
  border-bottom: 0;
}
li.on {
  background: var(--tb-selection);
}
.place {
  text-align: left;
  color: var(--tb-action);
}
.place:disabled {
  color: var(--tb-quiet);
}
time {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
li :deep(b) {
  font-weight: 560;
}
li > :deep(span) a {
  color: var(--tb-ink);
  text-decoration: underline;
  text-decoration-color: var(--tb-rule);
  text-underline-offset: 3px;
}
li :deep(.x) {
  display: block;
  font-size: var(--tb-small);
  color: var(--tb-quiet);
}
.more {
  margin-top: var(--tb-s3);
}
@media (max-width: 900px) {
  .trail-page {
    display: block;
  }
  aside {
    border-left: 0;
    border-top: 1px solid var(--tb-action);
  }
  .list {
    padding: var(--tb-s3);
  }
  li {
    grid-template-columns: 48px 26px minmax(0, 1fr);
  }
  li time {
    grid-column: 3;
    order: 4;
  }
  .place {
    min-height: 44px;
  }
}
</style>
