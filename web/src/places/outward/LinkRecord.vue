<script setup lang="ts">
import { useLinkRecord } from '../../queries/links'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconHere from '~icons/ph/check'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import EventWords from '../../sentences/EventWords.vue'
import LinkActs from '../links/LinkActs.vue'
import LinkMade from '../links/LinkMade.vue'
import Openings from './Openings.vue'

/** What happened through one link, and what can be done with it. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const { act } = useAct()
const sending = ref(false)
/** What was looked at longest stands with the first look at it. */
function looked(e: Schemas['Event']) {
  if (e.kind !== 'link.viewed') return ''
  const l = record.value?.looks.find((x) => x.visit === e.data?.visit && x.itemId === e.itemId && x.version === e.version)
  if (!l || (!l.seconds && !l.pages)) return ''
  const time = said.duration(l.seconds)
  return l.pages
    ? t('outward.lookedPages', { pages: l.pages.replaceAll('-', '–'), time }, /[-,]/.test(l.pages) ? 2 : 1)
    : t('outward.looked', { time })
}
const { data: record } = useLinkRecord(() => props.id)
</script>

<template>
  <div v-if="record" class="box">
    <div class="acts small">
      <h2>{{ t('outward.record') }}</h2>
      <span v-if="record.link.sentTo.length" class="quiet">{{ t('outward.sentTo', { to: record.link.sentTo.join(', ') }) }}</span>
    </div>
    <LinkActs :link="record.link">
      <button v-if="record.link.address" type="button" class="go" :aria-expanded="sending" @click="sending = !sending">
        {{ t('outward.send') }}
      </button>
      <a class="go" :href="`/api/links/${id}/record.csv`" download>{{ t('outward.export') }}</a>
      <RouterLink class="go" :to="{ path: '/trail', query: { link: id } }">{{ t('evidence.link') }}</RouterLink>
      <button
        v-if="record.link.mayEnd && record.link.state === 'open' && record.link.sentTo.length && record.link.expected.some((p) => !p.here)"
        type="button"
        class="go"
        @click="act(() => api.POST('/links/{id}/reminder', { params: { path: { id } } }), { done: t('outward.reminded'), aloud: true })"
      >
        {{ t('outward.remind') }}
      </button>
    </LinkActs>
    <LinkMade v-if="sending" :link="record.link" :copied="false" again />
    <ul v-if="record.link.expected.length" class="papers">
      <li v-for="p in record.link.expected" :key="p.name" :class="{ here: p.here }">
        <IconHere v-if="p.here" :aria-label="t('outward.here')" role="img" />
        <span v-else class="box-empty" role="img" :aria-label="t('outward.missing')"></span>
        {{ p.name }}
      </li>
    </ul>
    <div class="halves">
      <ul class="trail">
        <li v-for="e in record.events" :key="e.id">
          <time :datetime="e.at" :title="said.full(e.at)">{{ said.when(e.at) }}</time>
          <span>
            <EventWords :event="e" />
            <span v-if="looked(e)" class="looked">{{ looked(e) }}</span>
          </span>
        </li>
      </ul>
      <Openings :at="record.events.filter((e) => e.kind === 'link.opened').map((e) => e.at)" />
    </div>
  </div>
</template>

<style scoped>
.box {
  background: var(--tb-sheet);
  border: 1px solid var(--tb-action);
  border-left-width: 3px;
  border-radius: 3px;
  padding: 10px 16px;
}
.box > .acts {
  flex-wrap: wrap;
  margin-bottom: 6px;
}
h2 {
  font-size: var(--tb-lead);
  margin-right: var(--tb-s2);
}
.halves {
  display: flex;
  gap: 28px;
  align-items: flex-start;
}
.halves > ul {
  flex: 1;
  min-width: 0;
}
.papers {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s1) var(--tb-s5);
  margin-bottom: var(--tb-s2);
}
.papers li {
  display: flex;
  gap: 6px;
  align-items: center;
  font-weight: 560;
}
.papers .here {
  color: var(--tb-quiet);
  font-weight: 400;
}
.box-empty {
  width: 12px;
  height: 12px;
  border: 1.5px solid var(--tb-edge);
  border-radius: 2px;
}
.looked {
  display: block;
}
@media (max-width: 900px) {
  .halves {
    display: block;
  }
}
.trail {
  max-height: 320px;
  overflow: auto;
}
.trail li {
  grid-template-columns: 110px 1fr;
}
.trail :deep(.x) {
  display: block;
  color: var(--tb-quiet);
}
.trail :deep(a) {
  color: inherit;
}
.trail :deep(b) {
  font-weight: 560;
}
</style>
