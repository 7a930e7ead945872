<script setup lang="ts">
import { useMediaQuery } from '@vueuse/core'
import { computed, reactive } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import { useSignings } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { archiveOf } from '../dossier/thingacts'
import Letter from './Letter.vue'
import OneSigning from './OneSigning.vue'

/** Papers on their way to their parties: in which order, for whom each waits and since when; the chosen one beside them. */
defineProps<{ id?: string }>()
const { t } = useI18n()
const said = useSaid()
const narrow = useMediaQuery('(max-width: 900px)')
const { data, error, refetch } = useSignings()
/** Which of them are shown: for whom they wait, from which dossier, of which form. */
const only = reactive({ who: 'all' as 'all' | 'mine' | 'outside', dossier: '', form: '' })
const dossierOf = (l: Schemas['SigningLine']) => l.ref.split('/')[0]!
const every = computed(() => [...(data.value?.open ?? []), ...(data.value?.ended ?? [])])
const dossiers = computed(() => [...new Set(every.value.map(dossierOf))].sort())
const forms = computed(() => [...new Set(every.value.flatMap((l) => (l.form ? [l.form] : [])))].sort())
const meant = (l: Schemas['SigningLine']) =>
  (only.who === 'all' || (only.who === 'mine' ? l.mine !== undefined : l.parties.some((p) => p.waits && !p.person))) &&
  (!only.dossier || dossierOf(l) === only.dossier) &&
  (!only.form || l.form === only.form)
const parts = computed(() => [
  { key: 'onTheirWay', lines: (data.value?.open ?? []).filter(meant) },
  { key: 'ended', lines: (data.value?.ended ?? []).filter(meant) },
])
const finished = computed(() => parts.value[1]!.lines.filter((l) => l.status === 'finished'))
const none = computed(() => data.value && !data.value.open.length && !data.value.ended.length)
const mine = computed(() => data.value?.open.filter((l) => l.mine !== undefined) ?? [])
const inTurn = (l: Schemas['SigningLine']) => [...l.parties].sort((a, b) => a.turn - b.turn)
const waits = (l: Schemas['SigningLine']) => said.list(l.parties.filter((p) => p.waits).map((p) => p.name))
const since = (l: Schemas['SigningLine']) => {
  const p = l.parties.find((one) => one.waits)
  return p
    ? `${t('signing.since', { when: said.when(p.since ?? l.since) })}, ${p.openings ? t('signing.opened', p.openings) : t('signing.notOpened')}`
    : ''
}
function stands(l: Schemas['SigningLine']) {
  if (l.status === 'going') return l.mine !== undefined ? t('signing.you') : waits(l)
  if (l.status === 'declined') return t('signing.declinedWhy', { reason: l.reason })
  if (l.status === 'called-off') return t('signing.calledOffWhy', { reason: l.reason })
  return t(`signing.status.${l.status}`)
}
</script>

<template>
  <main id="content" class="board" :class="{ reading: id }">
    <h1 v-if="narrow && id" class="visually-hidden">{{ t('signing.title') }}</h1>
    <div class="list">
      <header>
        <div>
          <RouterLink to="/decisions" class="go small">← {{ t('decisions.title') }}</RouterLink>
          <h1>{{ t('signing.title') }}</h1>
        </div>
        <span class="acts">
          <RouterLink class="btn btn-plain" to="/check">{{ t('signing.check') }}</RouterLink>
          <RouterLink class="btn btn-plain" to="/signing/forms">{{ t('signforms.title') }}</RouterLink>
        </span>
      </header>
      <p v-if="data && !none" class="terms">
        {{ t('signing.sum', data.open.length) }}
        <b v-if="mine.length">{{ t('signing.sumMine', mine.length) }}</b>
      </p>
      <p v-if="data && !none && every.length > 1" class="small narrowed">
        {{ t('signing.showing') }}
        <SentenceSelect
          v-model="only.who"
          :label="t('signing.waitsFor')"
          :options="(['all', 'mine', 'outside'] as const).map((value) => ({ value, words: t(`signing.only.${value}`) }))"
          then=","
        />
        <SentenceSelect
          v-model="only.dossier"
          :label="t('signforms.dossier')"
          :options="[{ value: '', words: t('signing.anyDossier') }, ...dossiers.map((value) => ({ value, words: value }))]"
          :then="forms.length ? ',' : '.'"
        />
        <SentenceSelect
          v-if="forms.length"
          v-model="only.form"
          :label="t('signforms.title')"
          :options="[{ value: '', words: t('signing.anyForm') }, ...forms.map((value) => ({ value, words: value }))]"
          then="."
        />
        <a v-if="finished.length > 1" class="go" :href="archiveOf(finished.map((l) => ({ id: l.itemId })))" download data-all-signed>
          {{ t('signing.downloadAll', finished.length) }}
        </a>
      </p>
      <Failed v-if="error && !data" :error="error" @again="refetch()" />
      <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
      <div v-else-if="none" class="empty">
        <h2>{{ t('signing.none') }}</h2>
        <p>{{ t('signing.noneHint') }}</p>
      </div>
      <table v-else class="requests">
        <caption class="visually-hidden">{{ t('signing.title') }}</caption>
        <thead>
          <tr>
            <th scope="col" class="c-no">{{ t('signing.no') }}</th>
            <th scope="col">{{ t('signing.document') }}</th>
            <th scope="col">{{ t('signing.parties') }}</th>
            <th scope="col" class="c-waits">{{ t('signing.waitsFor') }}</th>
            <th scope="col" class="c-until">{{ t('signing.until') }}</th>
          </tr>
        </thead>
        <tbody v-for="part in parts.filter((p) => p.lines.length)" :key="part.key">
          <tr class="group">
            <th colspan="5" scope="rowgroup">
              <b class="with-comma">{{ t(`signing.${part.key}`) }}</b>
              {{ part.lines.length }}
            </th>
          </tr>
          <tr v-for="l in part.lines" :key="l.id" :class="{ on: l.id === id }" :data-signing="l.ref">
            <td class="no c-no">{{ l.ref }}</td>
            <td>
              <RouterLink :to="`/signing/${l.id}`" :aria-current="l.id === id ? 'true' : undefined">
                {{ l.name.replace(/\.\w+$/, '') }}
              </RouterLink>
              <span class="small quiet under">
                {{ l.form ? t('signing.fromForm', { form: l.form, n: l.formEdition }) : t('signing.oneOff') }}
              </span>
            </td>
            <td>
              <span class="letters">
                <template v-for="(p, i) in inTurn(l)" :key="p.letter">
                  <span v-if="i" class="joint" :class="{ at: inTurn(l)[i - 1]!.turn === p.turn }" aria-hidden="true"></span>
                  <Letter
                    :letter="p.letter"
                    :done="!!p.signedAt"
                    :waits="p.waits"
                    :over="['declined', 'called-off', 'expired'].includes(l.status) && !p.signedAt"
                  />
                </template>
              </span>
              <span class="small quiet under">
                {{
                  inTurn(l)
                    .map((p) => p.name.split(' ')[0])
                    .join(', ')
                }}
              </span>
            </td>
            <td class="c-waits">
              <b>{{ stands(l) }}</b>
              <span class="small quiet under">
                {{ l.status === 'going' ? since(l) : l.trouble ? t('signing.trouble') : said.when(l.endedAt ?? l.since) }}
              </span>
            </td>
            <td class="c-until">
              {{ l.status === 'going' ? said.when(l.until) : l.final ? t('signing.asVersion', { n: l.final }) : '' }}
              <RouterLink v-if="l.mine !== undefined" class="under small" :to="`/signing/${l.id}/sign`">
                {{ t('signing.readAndSign') }}
              </RouterLink>
            </td>
          </tr>
        </tbody>
      </table>
    </div>
    <OneSigning v-if="id" :id="id" :key="id" />
    <aside v-else-if="!narrow && data && !none" class="beside quiet">{{ t('signing.choose') }}</aside>
  </main>
</template>

<style scoped>
.board {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(320px, 380px);
  min-height: calc(100dvh - 52px);
}
.list {
  padding: 16px 24px;
  min-width: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: flex-start;
  flex-wrap: wrap;
  gap: var(--tb-s3);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s2);
}
.narrowed {
  display: flex;
  flex-wrap: wrap;
  gap: 0 0.4em;
}
.narrowed .go {
  margin-left: auto;
}
.requests {
  width: 100%;
  border-collapse: collapse;
  table-layout: fixed;
}
th {
  text-align: left;
  font-weight: 500;
  font-size: var(--tb-small);
  color: var(--tb-quiet);
  padding: 6px 8px 6px 0;
  border-bottom: 1px solid var(--tb-rule);
}
.group th {
  color: var(--tb-ink);
  border-bottom: 1px solid var(--tb-ink);
}
td {
  padding: 6px 8px 6px 0;
  border-bottom: 1px solid var(--tb-line);
  vertical-align: top;
  overflow: hidden;
  text-overflow: ellipsis;
}
td a {
  font-weight: 560;
  color: inherit;
  text-decoration: none;
}
td a.under {
  color: var(--tb-action);
}
.under {
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
tr.on td {
  background: var(--tb-selection);
}
tr.on td:first-child {
  box-shadow: inset 3px 0 0 var(--tb-action);
}
.c-no {
  width: 104px;
}
.no.c-no {
  padding-left: 6px;
}
.c-until {
  width: 116px;
}
.letters {
  display: inline-flex;
  align-items: center;
  padding: 4px;
}
.joint {
  width: 12px;
  border-top: 1.5px solid var(--tb-ink);
}
.joint.at {
  border-top: 0;
  width: 6px;
}
.beside {
  border-left: 1px solid var(--tb-line);
  padding: 20px;
}
@media (max-width: 900px) {
  .board {
    display: block;
  }
  .list {
    padding: 14px 16px;
  }
  .reading .list {
    display: none;
  }
  .requests,
  .requests tbody,
  .requests tr,
  .requests td,
  .group th {
    display: block;
    width: auto;
  }
  .requests thead,
  .requests .c-no {
    display: none;
  }
  .requests td {
    border: 0;
    padding: 2px 0;
  }
  .requests tr {
    border-bottom: 1px solid var(--tb-line);
    padding: 8px 0;
  }
}
</style>
