<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import IconPapers from '~icons/ph/files'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import Rows, { type Column } from '../../parts/Rows.vue'
import { useDesk } from '../../queries/dossiers'
import { useSaid } from '../../sentences/said'
import DeskWays from '../deliveries/DeskWays.vue'
import DeskShowing from './DeskShowing.vue'
import { useGivenThings } from './given'
import GivenLink from './GivenLink.vue'
import GrantRow from './GrantRow.vue'

/** What I was given, by whom and with what rights; and what I gave to others. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { data: desk } = useDesk(() => store.session?.standing !== 'guest')
const { showing, byMe, grants, links, isNew, loaded, error, refetch, hasNextPage, fetchNextPage } = useGivenThings()
const count = computed(() => grants.value.length + links.value.length)
const columns = computed<Column[]>(() => [
  { words: t('desk.columns.pin'), hidden: true, width: 40 },
  { words: t('desk.columns.number'), width: 104 },
  { words: t('desk.columns.what') },
  { words: t(byMe.value ? 'desk.columns.whom' : 'desk.columns.from'), width: 190 },
  { words: t('desk.columns.may'), width: 216 },
  { words: t('desk.columns.ends'), width: 128 },
  { width: 96 },
])
</script>

<template>
  <main id="content" class="plain desk">
    <DeskWays />
    <header>
      <div>
        <h1>{{ t('desk.title') }}</h1>
        <p class="terms">{{ t(`desk.summary.${showing.what}`, { n: said.count(count) }, count) }}</p>
      </div>
      <div v-if="desk" class="acts">
        <span class="small quiet only-wide">{{ t('desk.papersHint', { n: desk.documents }, desk.documents) }}</span>
        <RouterLink class="btn btn-primary" :to="`/dossiers/${desk.code}`">
          <IconPapers aria-hidden="true" />
          {{ t('desk.papers') }}
        </RouterLink>
      </div>
    </header>
    <DeskShowing v-model="showing" />
    <Failed v-if="error && !loaded" :error="error" @again="refetch()" />
    <div v-else-if="loaded && !count" class="empty">
      <h2>{{ t(`desk.emptyTitle.${showing.what}`) }}</h2>
      <p>{{ t(`desk.empty.${showing.what}`) }}</p>
      <RouterLink class="btn btn-plain" to="/dossiers">{{ t('dossier.toDossiers') }}</RouterLink>
    </div>
    <Rows v-else-if="loaded" :columns="columns" :label="t('desk.title')" class="toned">
      <tbody>
        <GivenLink v-for="l in links" :key="l.id" :link="l" />
        <GrantRow v-for="g in grants" :key="g.id" :grant="g" :by-me="byMe" :fresh="isNew(g)" />
      </tbody>
    </Rows>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
    <button v-if="hasNextPage" type="button" class="btn btn-plain more" @click="fetchNextPage()">{{ t('common.more') }}</button>
  </main>
</template>

<style scoped>
.more {
  margin-top: var(--tb-s3);
}
</style>
