<script setup lang="ts">
import { useEventListener, useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconTray from '~icons/ph/tray'
import { api, data } from '../api/client'
import MiddleName from '../parts/MiddleName.vue'
import { tell } from '../app/toasts'
import { useSaid } from '../sentences/said'
import type { Coming } from './coming'
import { useTray } from './tray'

/** Running uploads with their progress; folded away while one goes on working. */
const { t } = useI18n()
const said = useSaid()
const tray = useTray()
const running = computed(() => tray.active > 0)
const label = computed(() => (running.value ? t('tray.running', { n: tray.active, p: tray.percent }, tray.active) : t('tray.idle')))

const summary = computed(() => {
  const { done, stopped, refused } = tray.counts
  const parts = [t('tray.summary', { n: done, all: tray.all.length })]
  if (stopped) parts.push(t('tray.stoppedN', { n: stopped }))
  if (refused) parts.push(t('tray.refusedN', { n: refused }))
  return parts.join(', ')
})
/** Names that are alike are told apart by the folders above them. */
const alike = computed(() => {
  const seen = new Set<string>()
  return new Set(tray.shown.map((c) => c.name).filter((n) => seen.size === seen.add(n).size))
})

function became(c: Coming): string {
  const o = c.outcome
  return o ? t(`tray.done.${o.outcome}`, { ref: o.document.ref, n: o.version }) : ''
}

async function keepApart(c: Coming) {
  if (!c.outcome) return
  const place = await data(
    api.POST('/documents/{id}/versions/{number}/separation', {
      params: { path: { id: c.outcome.document.id, number: c.outcome.version } },
    }),
  )
  c.outcome = { outcome: 'apart', document: place, version: 1 }
  tell(t('slip.separated', { ref: place.ref }))
}

/** What came in under another name becomes a version of the paper that it is. */
async function adopt(c: Coming) {
  const { outcome: o } = c
  if (!o?.like) return
  const { like, document } = o
  const made = await data(api.POST('/documents/{id}/adoption', { params: { path: { id: like.id } }, body: { from: document.id } }))
  c.outcome = { outcome: 'version', document: like, version: made.number }
}

/** What a copy changed and what was changed meanwhile come together, where both are texts and not in the same places. */
const unmerged = ref(new Map<number, string>())
async function merge(c: Coming) {
  const { outcome: o, from } = c
  if (!o?.like || !from) return
  try {
    const body = { from: o.document.id, base: from.version }
    const made = await data(api.POST('/documents/{id}/merge', { params: { path: { id: o.like.id } }, body }))
    tell(t('tray.merged', { ref: o.like.ref, n: made.number }))
    c.from = undefined
  } catch (e) {
    unmerged.value.set(c.id, said.problem(e))
  }
}
const isText = (c: Coming) => /\.(txt|md|markdown|csv|tsv|log)$/i.test(c.name)

/** When all is in, and nothing needs a person, it folds itself away; not while somebody is looking through it. */
const held = ref(false)
const { start, stop } = useTimeoutFn(() => (tray.open = false), 8000, { immediate: false })
const needless = computed(
  () => !running.value && !tray.counts.stopped && !tray.counts.refused && !tray.shown.some((c) => c.outcome?.separable || c.outcome?.like),
)
watch([needless, held, () => tray.open], () => (needless.value && !held.value && tray.open && tray.all.length ? start() : stop()))

useEventListener(window, 'beforeunload', (e) => {
  if (running.value) e.preventDefault()
})
</script>

<template>
  <div class="tray-holder">
    <button
      type="button"
      class="tray-button"
      :aria-label="`${t('tray.label')}: ${label}`"
      :title="label"
      :aria-expanded="tray.open"
      @click="tray.open = !tray.open"
    >
      <IconTray aria-hidden="true" />
      <span v-if="running">{{ tray.percent }} %</span>
    </button>
    <section
      v-if="tray.open"
      class="tray"
      :aria-label="t('tray.label')"
      @pointerenter="held = true"
      @pointerleave="held = false"
      @focusin="held = true"
      @focusout="held = false"
    >
      <header>
        <h2>{{ t('tray.title') }}</h2>
        <!-- It stands where nothing beside it can push it away. -->
        <button type="button" class="btn btn-plain btn-small fold" @click="tray.open = false">{{ t('tray.fold') }}</button>
      </header>
      <div class="acts sums">
        <span class="small quiet">{{ summary }}</span>
        <button v-if="tray.active > 1" type="button" class="btn btn-text btn-small" @click="tray.stopAll()">{{ t('tray.stopAll') }}</button>
        <button v-if="tray.all.length > tray.active" type="button" class="btn btn-text btn-small" @click="tray.clear()">
          {{ t('tray.clear') }}
        </button>
      </div>
      <div
        v-if="running"
        class="bar"
        role="progressbar"
        :aria-valuenow="tray.percent"
        aria-valuemin="0"
        aria-valuemax="100"
        :aria-label="label"
      >
        <i :style="{ width: `${tray.percent}%` }"></i>
      </div>
      <ul tabindex="0" :aria-label="t('tray.title')">
        <li v-for="c in tray.shown" :key="c.id" :data-state="c.state">
          <MiddleName :name="alike.has(c.name) && c.path ? `${c.path}/${c.name}` : c.name" whole />
          <span class="small quiet size">{{ said.size(c.size) }}</span>
          <span class="small what">
            <template v-if="c.state === 'waiting'">{{ t('tray.waiting') }}</template>
            <template v-else-if="c.state === 'running'">
              {{ c.offline ? t('tray.offline') : `${c.size ? Math.floor((c.sent / c.size) * 100) : 0} %` }}
            </template>
            <template v-else-if="c.state === 'done' && c.outcome">
              <RouterLink :to="`/d/${c.outcome.document.ref}`">{{ became(c) }}</RouterLink>
            </template>
            <template v-else-if="c.state === 'stopped'">{{ t('tray.stopped') }}</template>
            <span v-else role="alert" class="t-caution">{{ said.problem(c.refusal) }}</span>
          </span>
          <span v-if="c.state === 'done' && c.outcome?.like && c.from" class="small quiet">
            {{ t('tray.movedOn', { n: c.from.version, counts: c.from.counts }) }}
            <span v-if="unmerged.has(c.id)" class="t-caution">{{ unmerged.get(c.id) }}</span>
          </span>
          <button v-if="c.outcome?.like && c.from && isText(c)" type="button" class="btn btn-plain btn-small" @click="merge(c)">
            {{ t('tray.merge') }}
          </button>
          <button v-if="c.state === 'done' && c.outcome?.like" type="button" class="btn btn-plain btn-small" @click="adopt(c)">
            {{ t('tray.versionOf', { ref: c.outcome.like.ref }) }}
          </button>
          <button
            v-else-if="c.state === 'done' && c.outcome?.separable"
            type="button"
            class="btn btn-plain btn-small"
            @click="keepApart(c)"
          >
            {{ t('tray.apart') }}
          </button>
          <button v-else-if="c.state === 'running' || c.state === 'waiting'" type="button" class="btn btn-text btn-small" @click="c.stop()">
            {{ t('tray.cancel') }}
          </button>
          <template v-else-if="c.state === 'refused' && c.refusal?.code === 'approved-stays'">
            <button type="button" class="btn btn-plain btn-small" @click="tray.supersede(c)">{{ t('decisions.supersede') }}</button>
            <button v-if="c.to.folder && !c.to.document" type="button" class="btn btn-plain btn-small" @click="tray.apart(c)">
              {{ t('tray.apart') }}
            </button>
          </template>
          <button
            v-else-if="c.state === 'refused' || c.state === 'stopped'"
            type="button"
            class="btn btn-text btn-small"
            @click="c.again()"
          >
            {{ t('tray.retry') }}
          </button>
        </li>
      </ul>
    </section>
  </div>
</template>

<style scoped>
.tray-button {
  min-width: 24px;
  min-height: 24px;
}
.fold {
  margin-left: auto;
}
.sums {
  min-height: 34px;
  padding: 0 14px;
}
.tray-holder {
  position: relative;
}
.tray {
  position: fixed;
  right: 16px;
  bottom: 16px;
  z-index: var(--tb-layer-tray);
  width: min(420px, calc(100vw - 32px));
  background: var(--tb-sheet);
  color: var(--tb-ink);
  border: 1px solid var(--tb-rule);
  border-top: 2px solid var(--tb-ink);
  border-radius: 3px;
  box-shadow: 0 6px 24px var(--tb-shade);
}
.tray header {
  display: flex;
  align-items: baseline;
  gap: 10px;
  padding: 10px 14px 8px;
}
.tray header button {
  color: var(--tb-action);
  display: inline-flex;
}
.bar {
  height: 3px;
  background: var(--tb-line);
}
.bar i {
  display: block;
  height: 3px;
  background: var(--tb-action);
}
.tray ul {
  max-height: 40vh;
  overflow: auto;
  padding: 0 14px 8px;
}
.tray li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  column-gap: 10px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 18px;
}
.tray li .what {
  grid-row: 2;
  grid-column: 1 / 3;
}
.tray li > button {
  grid-row: 1 / 3;
  grid-column: 3;
  color: var(--tb-action);
}
@media (max-width: 900px) {
  .tray {
    bottom: 72px;
  }
}
</style>
