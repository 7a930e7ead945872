<script setup lang="ts">
import { useLinks } from '../../queries/links'
import { useDossiers } from '../../queries/dossiers'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import type { Schemas } from '../../api/client'
import { useLinkActs } from '../links/acts'
import { useSteady } from '../../parts/steady'
import { fileTypeOf, fileTypes, type FileType } from '../../sentences/filetypes'
import { useSaid } from '../../sentences/said'
import Rows, { type Column } from '../../parts/Rows.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import Failed from '../../app/Failed.vue'
import OutwardWays from '../transfers/OutwardWays.vue'
import LinkRow from './LinkRow.vue'

/** Everything that can be reached from outside, one row each with its sentence, use and end. */
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const router = useRouter()
const { endAll } = useLinkActs()
const states = ['open', 'over', 'all'] as const
const state = ref<(typeof states)[number]>('open')
const from = ref('')
const maker = ref('')
const kind = ref<'' | Schemas['LinkKind']>('')
const type = ref<'' | FileType>('')
const which = ref<'' | 'mine' | 'never' | 'soon'>('')
const mine = computed(() => which.value === 'mine')
const chosen = ref<string[]>([])
const { data: links, error, refetch } = useLinks(() => ({ state: state.value, dossier: from.value, mine: mine.value }))
const { data: dossiers } = useDossiers()
const open = computed(() => links.value?.filter((l) => l.living) ?? [])
const soon = computed(() => open.value.filter((l) => l.until && new Date(l.until).getTime() - said.now.value.getTime() < 86_400_000).length)
const shown = computed(() => (typeof route.query.link === 'string' ? route.query.link : undefined))

// A link that is over is looked for among those that are over.
watch([shown, links], () => {
  if (shown.value && links.value && state.value === 'open' && !links.value.some((l) => l.id === shown.value)) state.value = 'all'
})
/** Rows stay where they are while one works on them. */
const steady = useSteady(
  () => links.value ?? [],
  (l) => l.id,
  () => `${state.value} ${from.value} ${mine.value}`,
)
const listed = computed(() =>
  steady.value
    .filter((l) => !type.value || l.items.some((i) => i.kind === 'document' && fileTypeOf(i.name) === type.value))
    .filter((l) => (!kind.value || l.kind === kind.value) && (!maker.value || l.by === maker.value))
    .filter(
      (l) =>
        (which.value !== 'never' && which.value !== 'soon') ||
        (which.value === 'never' ? !l.openings : !!l.until && new Date(l.until).getTime() - said.now.value.getTime() < 7 * 86_400_000),
    ),
)
/** Chosen links that still can be ended; what is over or out of sight is not ended along. */
const ending = computed(() => listed.value.filter((l) => chosen.value.includes(l.id) && l.mayEnd))
async function endChosen() {
  const all = ending.value
  if (await endAll(all, t('outward.endedMany', { n: all.length }, all.length))) chosen.value = []
}
const words = computed(() => ({
  states: states.map((s) => ({ value: s, words: t(`outward.state.${s}`) })),
  from: [
    { value: '', words: t('outward.anyDossier') },
    ...(dossiers.value ?? []).map((d) => ({ value: d.code, words: `${d.code} ${d.name}` })),
  ],
  kinds: [
    { value: '' as const, words: t('outward.anyKind') },
    ...(['hand-out', 'working', 'intake', 'fill'] as const).map((k) => ({ value: k, words: t(`outward.kinds.${k}`) })),
  ],
  types: [
    { value: '' as const, words: t('outward.anyPaper') },
    ...fileTypes.map((value) => ({ value, words: t('outward.givingOut', { what: t(`common.fileType.${value}`) }) })),
  ],
  makers: [
    { value: '', words: t('outward.byAnybody') },
    ...[...new Set(links.value?.map((l) => l.by))].sort().map((m) => ({ value: m, words: t('outward.byOne', { name: m }) })),
  ],
  which: (['', 'mine', 'never', 'soon'] as const).map((w) => ({ value: w, words: t(`outward.which.${w || 'all'}`) })),
}))
const columns = computed<Column[]>(() => [
  { words: t('dossier.columns.choose'), hidden: true, width: 30 },
  { words: t('outward.columns.door'), hidden: true, width: 36 },
  { words: t('outward.columns.name'), width: 202 },
  { words: t('outward.columns.terms') },
  { words: t('outward.columns.use'), width: 192 },
  { words: t('outward.columns.ends'), width: 116 },
  { width: 116 },
])
const show = (id: string) => router.replace({ query: shown.value === id ? {} : { link: id } })
</script>

<template>
  <main id="content" class="plain out">
    <OutwardWays />
    <header>
      <div>
        <h1>{{ t('outward.title') }}</h1>
        <p v-if="links && state !== 'over'" class="terms">
          <b>{{ open.length ? t('outward.summary', { n: said.count(open.length) }, open.length) : t('outward.none') }}</b>
          {{ ' ' }}
          <template v-if="soon">{{ t('outward.soon', { n: said.count(soon) }, soon) }}</template>
        </p>
      </div>
    </header>
    <div class="showing">
      <span>
        {{ t('outward.showing') }}
        <SentenceSelect v-model="state" :label="t('outward.showing')" :options="words.states" />
        {{ t('outward.from') }}
        <SentenceSelect v-model="from" :label="t('outward.from')" :options="words.from" then="," />
        {{ ' ' }}
        <SentenceSelect v-model="kind" :label="t('outward.anyKind')" :options="words.kinds" then="," />
        {{ ' ' }}
        <SentenceSelect v-model="type" :label="t('outward.anyPaper')" :options="words.types" then="," />
        {{ ' ' }}
        <SentenceSelect v-model="maker" :label="t('outward.byAnybody')" :options="words.makers" then="," />
        {{ ' ' }}
        <SentenceSelect v-model="which" :label="t('outward.whichLabel')" :options="words.which" />
      </span>
      <button v-if="ending.length" type="button" class="btn btn-primary btn-small" @click="endChosen">
        {{ t('outward.endMany', { n: ending.length }, ending.length) }}
      </button>
    </div>
    <Failed v-if="error && !links" :error="error" @again="refetch()" />
    <div v-else-if="links && !listed.length" class="empty">
      <h2>{{ t('outward.emptyTitle') }}</h2>
      <p>{{ state === 'over' ? t('outward.emptyOver') : t('outward.empty') }}</p>
      <RouterLink class="btn btn-plain" to="/dossiers">{{ t('dossier.toDossiers') }}</RouterLink>
    </div>
    <Rows v-else-if="links" :columns="columns" :label="t('outward.title')" :height="53">
      <LinkRow v-for="l in listed" :key="l.id" v-model:chosen="chosen" :link="l" :shown="shown === l.id" @show="show(l.id)" />
    </Rows>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>
