<script setup lang="ts">
import { useEventListener, useMutationObserver } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import IconBack from '~icons/ph/arrow-left'
import Failed from '../../app/Failed.vue'
import { useThing } from '../../app/title'
import { stemOf } from '../../i18n/words'
import { isCommand, isTyping } from '../../parts/keys'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useComparison } from '../../queries/comparison'
import { useDocument } from '../../queries/documents'
import { useSaid } from '../../sentences/said'
import { useVersions } from '../versions/acts'
import ComparedPages from './ComparedPages.vue'
import ComparedTable from './ComparedTable.vue'
import ComparedText from './ComparedText.vue'

/** Two versions of a document, or two documents: a sentence of what differs, the differences, and from one to the next by key. */
const props = defineProps<{ document: string }>()
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const router = useRouter()
const number = (key: string) => Number(route.query[key]) || undefined
const pair = computed(() => ({
  document: props.document,
  from: number('from'),
  to: number('to'),
  with: typeof route.query.with === 'string' ? route.query.with : undefined,
}))
const { data: document } = useDocument(() => props.document)
const { data: c, error, refetch } = useComparison(pair)
const { bringBack, busy } = useVersions(() => props.document)
useThing(() => (c.value ? t('comparison.title', { what: stemOf(c.value.to.name) }) : ''))

const versions = computed(() =>
  (document.value?.versions ?? [])
    .filter((v) => !v.removed && !v.movedTo)
    .map((v) => ({ value: String(v.number), words: `${v.number}${v.title ? `, ${v.title}` : ''}, ${said.when(v.at)}` })),
)
const show = (change: { from?: string; to?: string }) => router.replace({ query: { ...route.query, ...change } })
/** What differs, in a sentence. */
const summary = computed(() => {
  const { text, table, same } = c.value ?? {}
  if (same) return t('comparison.same')
  if (text) {
    if (!text.changes) return t('comparison.sameText')
    return [
      t('comparison.places', { n: said.count(text.changes) }, text.changes),
      ...(text.removed ? [t('comparison.removed', { n: text.removed }, text.removed)] : []),
      ...(text.added ? [t('comparison.added', { n: text.added }, text.added)] : []),
      ...(text.moved ? [t('comparison.moved', { n: text.moved }, text.moved)] : []),
    ].join(', ')
  }
  if (!table) return t(c.value?.drawn ? 'comparison.framed' : 'comparison.whole')
  const parts = [
    ...(table.cells ? [t('comparison.cells', { n: table.cells }, table.cells)] : []),
    ...(table.addedRows ? [t('comparison.rowsAdded', { n: table.addedRows }, table.addedRows)] : []),
    ...(table.removedRows ? [t('comparison.rowsRemoved', { n: table.removedRows }, table.removedRows)] : []),
  ]
  return (parts.join(', ') || t('comparison.sameText')) + t('comparison.rowsSame', { n: table.sameRows }, table.sameRows)
})
const pages = computed(() => c.value?.text?.pages)
/** What has no words is laid beside each other by its pages; what has both, by either. */
const byPages = computed(() => !!c.value?.drawn && !c.value.same && (route.query.by === 'pages' || !c.value.text))
const ways = computed(() => (['words', 'pages'] as const).map((value) => ({ value, words: t(`comparison.by.${value}`) })))

const body = ref<HTMLElement>()
const at = ref(-1)
const changes = ref(0)
const places = () => [...globalThis.document.querySelectorAll<HTMLElement>('[data-change]')]
function count() {
  at.value = -1
  changes.value = places().length
}
watch(c, () => nextTick(count))
/** Pages are drawn, and their places found, one after the other. */
useMutationObserver(body, () => places().length !== changes.value && count(), { childList: true, subtree: true })
function go(by: number) {
  const all = places()
  if (!all.length) return
  at.value = (at.value + by + all.length) % all.length
  const here = all[at.value]
  for (const e of all) e.classList.toggle('here', e === here)
  here?.scrollIntoView({ block: 'center' })
  here?.focus({ preventScroll: true })
}
useEventListener('keydown', (e) => {
  const by = { n: 1, p: -1 }[e.key]
  if (by && !isTyping(e) && !isCommand(e)) go(by)
})
const as = (what: 'patch' | 'paper') => {
  const query = new URLSearchParams()
  for (const [k, v] of Object.entries(pair.value)) if (v && k !== 'document') query.set(k, String(v))
  return `/api/documents/${props.document}/comparison/${what}?${query}`
}
const older = computed(() =>
  document.value?.may.includes('change') && !c.value?.same && c.value?.from.id === c.value?.to.id ? c.value?.from : undefined,
)
</script>

<template>
  <main id="content" class="comparison">
    <header class="top">
      <RouterLink v-if="document" class="small" :to="`/dossiers/${document.dossierCode}/${document.folderId}?document=${document.id}`">
        <IconBack aria-hidden="true" />
        {{ document.folderName }}
      </RouterLink>
      <h1>{{ c ? stemOf(c.to.name) : t('common.loading') }}</h1>
      <span class="no quiet">{{ c?.to.ref }}</span>
      <div class="acts">
        <button
          v-if="older && older.version !== document?.versions.find((v) => v.counts)?.number"
          type="button"
          class="btn btn-plain"
          :disabled="busy"
          @click="bringBack(older.version)"
        >
          {{ t('versions.bringBackThis', { n: older.version }) }}
        </button>
        <a v-if="c?.text || c?.table" class="btn btn-plain" :href="as('paper')" download>{{ t('comparison.paper') }}</a>
        <a v-if="c?.patch" class="btn btn-plain" :href="as('patch')" download>{{ t('comparison.patch') }}</a>
      </div>
    </header>
    <Failed v-if="error && !c" :error="error" @again="refetch()" />
    <template v-else-if="c">
      <p class="terms sums">
        <template v-if="c.from.id === c.to.id">
          {{ t('comparison.version') }}
          <SentenceSelect
            :model-value="String(c.from.version)"
            :label="t('comparison.from')"
            :options="versions"
            @update:model-value="show({ from: $event })"
          />
          {{ t('comparison.against') }}
          <SentenceSelect
            :model-value="String(c.to.version)"
            :label="t('comparison.to')"
            :options="versions"
            then=":"
            @update:model-value="show({ to: $event })"
          />
        </template>
        <template v-else>
          {{ t('comparison.two', { a: `${c.from.ref} ${stemOf(c.from.name)}`, b: `${c.to.ref} ${stemOf(c.to.name)}` }) }}
        </template>
        {{ ' ' }}
        <template v-if="c.drawn && c.text && !c.same">
          {{ t('comparison.shownBy') }}
          <SentenceSelect
            :model-value="byPages ? 'pages' : 'words'"
            :label="t('comparison.shownBy')"
            :options="ways"
            then=","
            @update:model-value="router.replace({ query: { ...route.query, by: $event === 'pages' ? 'pages' : undefined } })"
          />
          {{ ' ' }}
        </template>
        <b>{{ summary }}</b>
        <template v-if="pages?.length">{{ t('comparison.onPages', { pages: said.list(pages.map(String)) }, pages.length) }}</template>
      </p>
      <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
      <p v-if="(c.text && !c.text.exact) || (c.table && !c.table.exact)" class="t-caution">{{ t('comparison.rough') }}</p>
      <div ref="body" class="body">
        <ComparedPages v-if="byPages" :key="`${c.from.version} ${c.to.version}`" :pair="pair" :from="c.from" :to="c.to" />
        <ComparedText v-else-if="c.text" :key="`${c.from.version} ${c.to.version}`" :text="c.text" />
        <ComparedTable v-else-if="c.table" :table="c.table" />
        <p v-else-if="!c.same" class="quiet">
          {{ t('comparison.wholeMore', { a: said.size(c.from.size), b: said.size(c.to.size) }) }}
        </p>
      </div>
    </template>
    <footer v-if="changes">
      <span role="status">
        {{ at >= 0 ? t('comparison.change', { n: at + 1, of: changes }) : t('comparison.changes', { n: changes }, changes) }}
      </span>
      <button type="button" class="btn btn-plain btn-small" @click="go(-1)">
        {{ t('comparison.previous') }}
        <kbd>P</kbd>
      </button>
      <button type="button" class="btn btn-plain btn-small" @click="go(1)">
        {{ t('comparison.next') }}
        <kbd>N</kbd>
      </button>
    </footer>
  </main>
</template>

<style scoped>
.comparison {
  display: flex;
  flex-direction: column;
  min-height: 100%;
}
.top {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: var(--tb-s3);
  padding: var(--tb-s3) 20px;
  border-bottom: 1px solid var(--tb-line);
}
.top .acts {
  margin-left: auto;
}
.sums {
  margin: 0;
  padding: var(--tb-s3) 20px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-line);
}
.body {
  flex: 1;
  padding: 20px;
}
footer {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
  padding: 10px 20px;
  position: sticky;
  bottom: 0;
  border-top: 1px solid var(--tb-ink);
  background: var(--tb-sheet);
}
.body :deep(.here) {
  outline: 2px solid var(--tb-action);
  outline-offset: 2px;
}
</style>
