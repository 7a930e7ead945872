<script setup lang="ts">
import { useAct } from '../../app/act'
import { useDirectory } from '../../queries/people'
import { useGiven } from '../../queries/sharing'
import { useLinks } from '../../queries/links'
import { useDesk, useDossiers } from '../../queries/dossiers'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconPapers from '~icons/ph/files'
import IconPin from '~icons/ph/push-pin'
import IconPinned from '~icons/ph/push-pin-fill'
import { api, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import { stemOf } from '../../i18n/words'
import Door from '../../parts/Door.vue'
import Terms from '../../parts/Terms.vue'
import Failed from '../../app/Failed.vue'
import { useLinkActs } from '../links/acts'
import Consequences from '../sharing/Consequences.vue'
import { useAccessWords } from '../sharing/words'

/** What I was given, by whom and with what rights; and what I gave to others. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const words = useAccessWords()
const showing = ref<'toMe' | 'byMe' | 'pinned'>('toMe')
const from = ref('')
const kind = ref<'' | 'folder' | 'document'>('')
const ending = ref(false)
const person = ref('')
const gave = ref<'' | 'people' | 'link'>('')
const writing = ref('')
const { data: dossiers } = useDossiers()
const filter = computed(() => ({
  dossier: from.value || undefined,
  kind: kind.value || undefined,
  person: (showing.value === 'byMe' && person.value) || undefined,
  endingBefore: ending.value
    ? new Date(Math.floor(said.now.value.getTime() / 3_600_000) * 3_600_000 + 14 * 86_400_000).toISOString()
    : undefined,
}))
const { data: desk } = useDesk(() => store.session?.standing !== 'guest')
const { data: directory } = useDirectory(() => showing.value === 'byMe')
const givesLinks = computed(() => showing.value === 'byMe' && gave.value !== 'people' && !person.value)
const { data: links } = useLinks(() => ({ mine: true, dossier: from.value }), givesLinks)
const myLinks = computed(() =>
  givesLinks.value
    ? (links.value ?? []).filter(
        (l) =>
          (!kind.value || l.items.every((i) => i.kind === kind.value)) &&
          (!ending.value || (!!l.until && new Date(l.until).getTime() < said.now.value.getTime() + 14 * 86_400_000)),
      )
    : [],
)
const acts = useLinkActs()
const { data: pages, error, refetch, hasNextPage, fetchNextPage } = useGiven(() => showing.value === 'byMe', filter)
/** What was new when the page was opened stays marked while it is open. */
const since = ref<string | null>()
watch(pages, (p) => {
  if (p && since.value === undefined && showing.value !== 'byMe') {
    since.value = p.pages[0].since ?? null
    void store.refresh()
  }
})
const isNew = (g: Schemas['Grant']) => showing.value !== 'byMe' && (!since.value || g.at > since.value)
const rows = computed(() => {
  const all = pages.value?.pages.flatMap((p) => p.grants) ?? []
  if (showing.value === 'byMe') return gave.value === 'link' ? [] : all
  return all.filter(
    (g) =>
      (showing.value !== 'pinned' || g.pinned) &&
      (!from.value || g.code === from.value) &&
      (!kind.value || (kind.value === 'document') === (g.itemKind === 'document')) &&
      (!ending.value || !!g.until),
  )
})
const way = (g: Schemas['Grant']) =>
  g.itemKind === 'document' && g.ref ? `/d/${g.ref}` : g.itemKind === 'dossier' ? `/dossiers/${g.code}` : `/dossiers/${g.code}/${g.itemId}`

const { act } = useAct()
const pin = (g: Schemas['Grant']) =>
  act(() => api.PUT('/items/{id}/pin', { params: { path: { id: g.itemId } }, body: { pinned: !g.pinned } }), { aloud: true })
const end = (g: Schemas['Grant']) =>
  act(
    async () => {
      await api.DELETE('/access/{id}', { params: { path: { id: g.id } } })
      writing.value = ''
    },
    { done: showing.value === 'byMe' ? t('access.ended', { who: g.name }) : t('desk.left', { name: g.itemName }), aloud: true },
  )
</script>

<template>
  <main id="content" class="plain desk">
    <header>
      <div>
        <h1>{{ t('desk.title') }}</h1>
        <p class="terms">
          {{ t(`desk.summary.${showing}`, { n: said.count(rows.length + myLinks.length) }, rows.length + myLinks.length) }}
        </p>
      </div>
      <div v-if="desk" class="acts">
        <span class="small quiet only-wide">{{ t('desk.papersHint', { n: desk.documents }, desk.documents) }}</span>
        <RouterLink class="btn btn-primary" :to="`/dossiers/${desk.code}`">
          <IconPapers aria-hidden="true" />
          {{ t('desk.papers') }}
        </RouterLink>
      </div>
    </header>
    <div class="showing">
      <span>
        {{ t('desk.showing') }}
        <span class="with-comma">
          <select v-model="showing" class="w choice" :aria-label="t('desk.showing')">
            <option value="toMe">{{ t('desk.toMe') }}</option>
            <option value="pinned">{{ t('desk.pinned') }}</option>
            <option value="byMe">{{ t('desk.byMe') }}</option>
          </select>
        </span>
        <select v-model="kind" class="w choice" :aria-label="t('desk.kindLabel')">
          <option value="">{{ t('desk.anyKind') }}</option>
          <option value="folder">{{ t('desk.folders') }}</option>
          <option value="document">{{ t('desk.documents') }}</option>
        </select>
        {{ t('outward.from') }}
        <span class="with-comma">
          <select v-model="from" class="w choice" :aria-label="t('outward.from')">
            <option value="">{{ t('outward.anyDossier') }}</option>
            <option v-for="d in dossiers" :key="d.id" :value="d.code">{{ d.code }} {{ d.name }}</option>
          </select>
        </span>
        <span :class="{ 'with-comma': showing === 'byMe' }">
          <select v-model="ending" class="w choice" :aria-label="t('desk.endingLabel')">
            <option :value="false">{{ t('desk.anyEnd') }}</option>
            <option :value="true">{{ t(showing === 'byMe' ? 'desk.endsSoon' : 'desk.hasEnd') }}</option>
          </select>
        </span>
        <template v-if="showing === 'byMe'">
          <span :class="{ 'with-comma': gave !== 'link' }">
            <select v-model="gave" class="w choice" :aria-label="t('desk.wayLabel')">
              <option value="">{{ t('desk.anyWay') }}</option>
              <option value="people">{{ t('desk.toPeople') }}</option>
              <option value="link">{{ t('desk.byLink') }}</option>
            </select>
          </span>
          <template v-if="gave !== 'link'">
            <select v-model="person" class="w choice" :aria-label="t('desk.whomLabel')">
              <option value="">{{ t('desk.anyone') }}</option>
              <option v-for="a in directory?.accounts.filter((a) => !a.ended)" :key="a.person.id" :value="a.person.id">
                {{ t('desk.toName', { name: a.person.name }) }}
              </option>
            </select>
          </template>
        </template>
      </span>
    </div>
    <Failed v-if="error && !pages" :error="error" @again="refetch()" />
    <div v-else-if="pages && !rows.length && !myLinks.length" class="empty" style="padding-left: 0">
      <h2>{{ t(`desk.emptyTitle.${showing}`) }}</h2>
      <p>{{ t(`desk.empty.${showing}`) }}</p>
      <RouterLink class="btn btn-plain" to="/dossiers">{{ t('dossier.toDossiers') }}</RouterLink>
    </div>
    <table v-else-if="pages" class="register toned">
      <colgroup>
        <col style="width: 40px" />
        <col style="width: 104px" />
        <col />
        <col style="width: 190px" />
        <col style="width: 216px" />
        <col style="width: 128px" />
        <col style="width: 96px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">
            <span class="visually-hidden">{{ t('desk.columns.pin') }}</span>
          </th>
          <th scope="col">{{ t('desk.columns.number') }}</th>
          <th scope="col">{{ t('desk.columns.what') }}</th>
          <th scope="col">{{ t(showing === 'byMe' ? 'desk.columns.whom' : 'desk.columns.from') }}</th>
          <th scope="col">{{ t('desk.columns.may') }}</th>
          <th scope="col">{{ t('desk.columns.ends') }}</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="l in myLinks" :key="l.id" :data-given="l.name">
          <td><Door state="open" /></td>
          <td class="no">{{ l.items.length === 1 ? (l.items[0].ref ?? l.dossierCode) : l.dossierCode }}</td>
          <td>
            <RouterLink :to="`/outward?link=${l.id}`" class="name">{{ l.name }}</RouterLink>
            <span class="s">{{ t(`desk.link.${l.kind}`) }}</span>
          </td>
          <td>
            {{ t('desk.whoever') }}
            <span class="s" :title="said.full(l.at)">
              {{ said.when(l.at) + (l.sentTo.length ? `, ${t('outward.sentTo', { to: l.sentTo.join(', ') })}` : '') }}
            </span>
          </td>
          <td>
            <span class="s two-lines"><Terms :sentence="l.sentence" /></span>
          </td>
          <td>
            <template v-if="l.until">
              <span :title="said.full(l.until)">{{ said.when(l.until) }}</span>
              <span class="s">{{ said.ahead(l.until) }}</span>
            </template>
            <span v-else class="quiet">{{ t('desk.noEnd') }}</span>
          </td>
          <td class="r">
            <button v-if="l.mayEnd" type="button" class="btn btn-plain btn-small" @click="acts.end(l)">{{ t('desk.end') }}</button>
          </td>
        </tr>
        <template v-for="g in rows" :key="g.id">
          <tr :class="{ fresh: isNew(g) }" :data-given="g.itemName">
            <td>
              <Door v-if="showing === 'byMe'" :state="g.outside ? 'ajar' : 'closed'" />
              <button
                v-else
                type="button"
                :aria-pressed="!!g.pinned"
                :aria-label="t(g.pinned ? 'desk.unpin' : 'desk.pin', { name: g.itemName })"
                :title="t(g.pinned ? 'desk.unpin' : 'desk.pin', { name: g.itemName })"
                @click="pin(g)"
              >
                <IconPinned v-if="g.pinned" aria-hidden="true" />
                <IconPin v-else class="quiet" aria-hidden="true" />
              </button>
            </td>
            <td class="no">{{ g.ref ?? g.code }}</td>
            <td>
              <RouterLink :to="way(g)" class="name">{{ g.itemKind === 'document' ? stemOf(g.itemName) : g.itemName }}</RouterLink>
              <span class="s">
                <b v-if="isNew(g)" class="new">{{ t('desk.new') }}</b>
                {{ t(`desk.kind.${g.itemKind}`, { dossier: g.dossierName }) }}
              </span>
            </td>
            <td>
              {{ showing === 'byMe' ? words.who(g, store.practice?.name ?? '') : g.by || '–' }}
              <span class="s" :title="said.full(g.at)">
                {{ said.when(g.at)
                }}{{
                  showing !== 'byMe' && g.kind !== 'person'
                    ? `, ${words.who(g, store.practice?.name ?? '')}`
                    : g.invited && showing === 'byMe'
                      ? `, ${t('access.invited')}`
                      : ''
                }}
              </span>
            </td>
            <td>
              {{ g.words }}
              <span class="s">{{ g.level === 'manage' ? '' : g.onward ? t('access.mayOnward') : t('access.mayNotOnward') }}</span>
            </td>
            <td>
              <template v-if="g.until">
                <span :title="said.full(g.until)">{{ said.when(g.until) }}</span>
                <span class="s">{{ said.ahead(g.until) }}</span>
              </template>
              <span v-else class="quiet">{{ t('desk.noEnd') }}</span>
            </td>
            <td class="r">
              <button
                v-if="showing === 'byMe' || g.kind === 'person'"
                type="button"
                class="btn btn-plain btn-small"
                :aria-expanded="writing === g.id"
                @click="writing = writing === g.id ? '' : g.id"
              >
                {{ showing === 'byMe' ? t('desk.end') : t('desk.leave') }}
              </button>
            </td>
          </tr>
          <tr v-if="writing === g.id" class="written">
            <td></td>
            <td colspan="6">
              <div>
                <div>
                  <p class="terms">
                    {{
                      showing === 'byMe'
                        ? t('desk.endSentence', { who: words.who(g, store.practice?.name ?? ''), name: g.itemName })
                        : t('desk.leaveSentence', { name: g.itemName })
                    }}
                  </p>
                  <Consequences :what="{ end: g.id }" />
                </div>
                <div class="acts">
                  <button type="button" class="btn btn-primary btn-small" @click="end(g)">
                    {{ showing === 'byMe' ? t('access.end') : t('desk.leave') }}
                  </button>
                  <button type="button" class="btn btn-text btn-small" @click="writing = ''">{{ t('common.discard') }}</button>
                </div>
              </div>
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
    <button v-if="hasNextPage" type="button" class="btn btn-plain" style="margin-top: 12px" @click="fetchNextPage()">
      {{ t('common.more') }}
    </button>
  </main>
</template>

<style scoped>
.desk .register td {
  height: 46px;
  padding-top: 5px;
  cursor: default;
}
a.name {
  color: var(--tb-ink);
  text-decoration: none;
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
a.name:hover {
  text-decoration: underline;
}
.door {
  --tb-knob: var(--tb-page);
}
.new {
  color: var(--tb-action);
  font-weight: 620;
}
.fresh a.name {
  font-weight: 700;
}
.register td .two-lines {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  white-space: normal;
  height: auto;
  line-height: 18px;
}
.written td {
  padding: 0 0 10px !important;
  height: auto !important;
  white-space: normal !important;
}
.written td > div {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 10px 12px;
}
@media (max-width: 900px) {
  thead,
  colgroup {
    display: none;
  }
  .register,
  tbody {
    display: block;
  }
  tbody tr:not(.written) {
    display: grid;
    grid-template-columns: 32px minmax(0, 1fr) auto;
    padding: 10px 0;
    border-bottom: 1px solid var(--tb-line);
  }
  .desk .register tbody tr:not(.written) td {
    border: 0;
    height: auto;
    padding: 0;
    white-space: normal;
  }
  tr td:nth-child(2) {
    display: none;
  }
  tr td:nth-child(3) {
    grid-column: 2;
    grid-row: 1;
  }
  tr td:nth-child(4) {
    grid-column: 2;
    grid-row: 2;
  }
  tr td:nth-child(5) {
    grid-column: 2;
    grid-row: 3;
  }
  tr td:nth-child(6) {
    grid-column: 3;
    grid-row: 2;
    text-align: right;
  }
  tr td:nth-child(7) {
    grid-column: 3;
    grid-row: 1;
  }
  .written {
    display: block;
  }
  .written td {
    display: block;
  }
  .written td:first-child {
    display: none;
  }
  .written td > div {
    display: block;
  }
}
</style>
