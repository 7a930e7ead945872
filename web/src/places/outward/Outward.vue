<script setup lang="ts">
import { useLinks } from '../../queries/links'
import { useDossiers } from '../../queries/dossiers'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import Door from '../../parts/Door.vue'
import Failed from '../../app/Failed.vue'
import Terms from '../../parts/Terms.vue'
import { useLinkActs } from '../links/acts'
import LinkRecord from './LinkRecord.vue'

/** Everything that can be reached from outside, one row each with its sentence, use and end. */
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const router = useRouter()
const acts = useLinkActs()
const { act } = useAct()
const states = ['open', 'over', 'all'] as const
const state = ref<(typeof states)[number]>('open')
const from = ref('')
const maker = ref('')
const makers = computed(() => [...new Set(links.value?.map((l) => l.by))].sort())
const kind = ref<'' | Schemas['LinkKind']>('')
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
const listed = computed(() =>
  (links.value ?? [])
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
  if (
    await act(() => Promise.all(all.map((l) => api.POST('/links/{id}/end', { params: { path: { id: l.id } } }))), {
      done: t('outward.endedMany', { n: all.length }, all.length),
      aloud: true,
    })
  )
    chosen.value = []
}
const use = (l: Schemas['Link']) =>
  l.openingsLimit
    ? t('outward.opensOf', { n: l.openings, limit: l.openingsLimit })
    : l.openings
      ? t('outward.opens', { n: l.openings }, l.openings)
      : t('outward.never')
/** What came in, for a link that takes papers. */
const cameIn = (l: Schemas['Link']) =>
  l.expected.length
    ? t('outward.papersHere', { n: l.expected.filter((p) => p.here).length, all: l.expected.length })
    : t('outward.receivedFiles', { n: l.received }, l.received)
const ref_ = (l: Schemas['Link']) => (l.items.length === 1 && l.items[0].ref ? l.items[0].ref : l.dossierCode)
/** How much of the next month the link lasts, for the small line. */
const lasts = (l: Schemas['Link']) =>
  l.until ? Math.min(92, Math.max(3, ((new Date(l.until).getTime() - said.now.value.getTime()) / (30 * 86_400_000)) * 92)) : 92
const show = (id: string) => router.replace({ query: shown.value === id ? {} : { link: id } })
</script>

<template>
  <main id="content" class="plain out">
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
        <select v-model="state" class="w choice" :aria-label="t('outward.showing')">
          <option v-for="s in states" :key="s" :value="s">{{ t(`outward.state.${s}`) }}</option>
        </select>
        {{ t('outward.from') }}
        <span class="with-comma">
          <select v-model="from" class="w choice" :aria-label="t('outward.from')">
            <option value="">{{ t('outward.anyDossier') }}</option>
            <option v-for="d in dossiers" :key="d.id" :value="d.code">{{ d.code }} {{ d.name }}</option>
          </select>
        </span>
        <span class="with-comma">
          <select v-model="kind" class="w choice" :aria-label="t('outward.anyKind')">
            <option value="">{{ t('outward.anyKind') }}</option>
            <option v-for="k in ['hand-out', 'working', 'intake'] as const" :key="k" :value="k">{{ t(`outward.kinds.${k}`) }}</option>
          </select>
        </span>
        <span class="with-comma">
          <select v-model="maker" class="w choice" :aria-label="t('outward.byAnybody')">
            <option value="">{{ t('outward.byAnybody') }}</option>
            <option v-for="m in makers" :key="m" :value="m">{{ t('outward.byOne', { name: m }) }}</option>
          </select>
        </span>
        <select v-model="which" class="w choice" :aria-label="t('outward.whichLabel')">
          <option value="">{{ t('outward.which.all') }}</option>
          <option value="mine">{{ t('outward.which.mine') }}</option>
          <option value="never">{{ t('outward.which.never') }}</option>
          <option value="soon">{{ t('outward.which.soon') }}</option>
        </select>
      </span>
      <button v-if="ending.length" type="button" class="btn btn-primary btn-small" @click="endChosen">
        {{ t('outward.endMany', { n: ending.length }, ending.length) }}
      </button>
    </div>
    <Failed v-if="error && !links" :error="error" @again="refetch()" />
    <div v-else-if="links && !listed.length" class="empty" style="padding-left: 0">
      <h2>{{ t('outward.emptyTitle') }}</h2>
      <p>{{ state === 'over' ? t('outward.emptyOver') : t('outward.empty') }}</p>
      <RouterLink class="btn btn-plain" to="/dossiers">{{ t('dossier.toDossiers') }}</RouterLink>
    </div>
    <table v-else-if="links" class="register">
      <colgroup>
        <col style="width: 30px" />
        <col style="width: 36px" />
        <col style="width: 202px" />
        <col />
        <col style="width: 192px" />
        <col style="width: 116px" />
        <col style="width: 116px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">
            <span class="visually-hidden">{{ t('dossier.columns.choose') }}</span>
          </th>
          <th scope="col">
            <span class="visually-hidden">{{ t('outward.columns.door') }}</span>
          </th>
          <th scope="col">{{ t('outward.columns.name') }}</th>
          <th scope="col">{{ t('outward.columns.terms') }}</th>
          <th scope="col">{{ t('outward.columns.use') }}</th>
          <th scope="col">{{ t('outward.columns.ends') }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody v-for="l in listed" :key="l.id">
        <tr :data-link="l.name" :class="{ over: !l.living }" @click="show(l.id)">
          <td class="choose" @click.stop>
            <input
              v-if="l.mayEnd"
              v-model="chosen"
              type="checkbox"
              class="form-check-input"
              :value="l.id"
              :aria-label="`${t('dossier.columns.choose')} ${l.name}`"
            />
          </td>
          <td><Door :state="l.living ? 'open' : 'closed'" /></td>
          <td>
            <button type="button" class="name" :aria-expanded="shown === l.id" @click.stop="show(l.id)">{{ l.name }}</button>
            <br />
            <span class="small quiet">
              {{ t(`outward.kinds.${l.kind}`) }},
              <span class="no nb">{{ ref_(l) }}</span>
            </span>
          </td>
          <td class="terms listed"><Terms :sentence="l.sentence" /></td>
          <td>
            <span v-if="l.openingsLimit && l.openingsLimit <= 6" class="pips open" aria-hidden="true">
              <i v-for="n in l.openingsLimit" :key="n" :class="{ on: n <= l.openings }"></i>
            </span>
            {{ use(l) }}
            <br />
            <template v-if="l.kind === 'intake' && (l.received || l.expected.length)">
              {{ cameIn(l) }}
              <br />
            </template>
            <span v-if="l.lastOpenedAt" class="small quiet" :title="said.full(l.lastOpenedAt)">
              {{ said.when(l.lastOpenedAt) + (l.lastBy ? `, ${l.lastBy}` : '') }}
            </span>
          </td>
          <td v-if="l.state === 'open'">
            <span :title="l.until && said.full(l.until)">{{ l.until ? said.ahead(l.until) : t('outward.noEnd') }}</span>
            <br />
            <svg width="92" height="8" aria-hidden="true">
              <path d="M0 4h92" stroke="var(--tb-line)" />
              <path :d="`M0 4h${lasts(l)}`" stroke="var(--tb-ink)" stroke-width="2" />
              <path :d="`M${lasts(l)} 0v8`" stroke="var(--tb-ink)" stroke-width="2" />
            </svg>
          </td>
          <td v-else>
            {{ t(`outward.state_${l.state}`) }}
            <br />
            <span class="small quiet">{{ said.when(l.endedAt ?? l.until ?? l.at) }}</span>
          </td>
          <td class="r">
            <button v-if="l.mayEnd" type="button" class="btn btn-plain btn-small" @click.stop="acts.end(l)">{{ t('outward.end') }}</button>
          </td>
        </tr>
        <tr v-if="shown === l.id" class="record">
          <td></td>
          <td colspan="6"><LinkRecord :id="l.id" /></td>
        </tr>
      </tbody>
    </table>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>

<style scoped>
.out .register td {
  height: 53px;
  white-space: normal;
  line-height: 20px;
}
.out .register td.terms {
  font-size: 0.875rem;
  padding-right: 28px;
}
.out .register td b {
  font-weight: 620;
}
.door {
  --tb-knob: var(--tb-page);
}
.name {
  text-align: left;
}
.over td {
  color: var(--tb-quiet);
}
.record td {
  padding: 10px 0 14px;
}
.record:hover td {
  background: none !important;
}
.record {
  cursor: default !important;
}
.pips {
  display: inline-flex;
  gap: 2px;
  margin-right: 8px;
  color: var(--tb-bearer);
}
.pips i {
  width: 8px;
  height: 8px;
  border: 1px solid currentColor;
}
.pips .on {
  background: currentColor;
}
@media (max-width: 900px) {
  thead,
  colgroup {
    display: none;
  }
  .register,
  .register tbody {
    display: block;
  }
  .out .register tr:not(.record) {
    display: grid;
    grid-template-columns: 32px minmax(0, 1fr) auto;
    padding: 10px 0;
    border-bottom: 1px solid var(--tb-line);
  }
  .out .register tr:not(.record) td {
    border: 0;
    height: auto;
    padding: 0;
  }
  tr td.choose {
    display: none;
  }
  tr td.terms {
    grid-column: 2 / 4;
    grid-row: 2;
    padding: 4px 0 !important;
  }
  tr td:nth-child(5) {
    grid-column: 2;
    grid-row: 3;
  }
  tr td:nth-child(6) {
    grid-column: 3;
    grid-row: 3;
    text-align: right;
  }
  tr td:last-child {
    grid-column: 3;
    grid-row: 1;
  }
  .record {
    display: block;
  }
  .record td {
    display: block;
    border: 0;
  }
}
</style>
