<script setup lang="ts">
import { useDossiers } from '../../queries/dossiers'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import IconPlus from '~icons/ph/folder-plus'
import { useSaid } from '../../sentences/said'
import Door from '../../parts/Door.vue'
import Rows, { type Column } from '../../parts/Rows.vue'
import Failed from '../../app/Failed.vue'
import NewDossier from './NewDossier.vue'

const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const route = useRoute()
/** Like which one a dossier is made, where one came to make it. */
const like = computed(() => (typeof route.query.like === 'string' ? route.query.like : undefined))
const writing = ref(!!like.value || route.query.make === '1')
function discard() {
  writing.value = false
  if (like.value || route.query.make) void router.replace('/dossiers')
}
const { data: dossiers, error, refetch } = useDossiers()
const columns = computed<Column[]>(() => [
  { words: t('dossiers.columns.door'), width: 58 },
  { words: t('dossiers.columns.code'), width: 84 },
  { words: t('dossiers.columns.name') },
  { words: t('dossiers.columns.for'), width: 180 },
  { words: t('dossiers.columns.documents'), width: 96, right: true },
  { words: t('dossiers.columns.storage'), width: 92, right: true },
  { words: t('dossiers.columns.last'), width: 176 },
])
const away = computed(() => dossiers.value?.filter((d) => d.aside) ?? [])
/** What is set aside stands in a list of its own, one word away. */
const aside = ref(false)
const listed = computed(() => (aside.value ? away.value : (dossiers.value?.filter((d) => !d.aside) ?? [])))
const summary = computed(() =>
  dossiers.value ? t('dossiers.summary', { n: said.count(dossiers.value.length).toLowerCase() }, dossiers.value.length) : '',
)
watch(away, (all) => {
  if (!all.length) aside.value = false
})
</script>

<template>
  <main id="content" class="plain">
    <header>
      <div>
        <h1>{{ t('dossiers.title') }}</h1>
        <p class="terms">
          {{ summary }}
          <button v-if="away.length" type="button" class="w" :aria-pressed="aside" @click="aside = !aside">
            {{ aside ? t('dossiers.daily') : t('dossiers.away', { n: said.count(away.length) }, away.length) }}
          </button>
        </p>
      </div>
      <div class="acts">
        <button v-if="!writing" type="button" class="btn btn-primary" @click="writing = true">
          <IconPlus aria-hidden="true" />
          {{ t('dossiers.make') }}
        </button>
      </div>
    </header>
    <NewDossier v-if="writing && dossiers" :like="like" @discard="discard" />
    <Failed v-if="error && !dossiers" :error="error" @again="refetch()" />
    <div v-else-if="dossiers && !dossiers.length" class="empty">
      <h2>{{ t('dossiers.emptyTitle') }}</h2>
      <p>{{ t('dossiers.empty') }}</p>
    </div>
    <p v-else-if="dossiers && !listed.length" class="quiet">{{ t('dossiers.allAway') }}</p>
    <Rows v-else-if="dossiers" :columns="columns" :label="t('dossiers.title')" :height="44" :lead="44" class="toned bodies">
      <tbody>
        <tr v-for="d in listed" :key="d.id" class="goes" @click="router.push(`/dossiers/${d.code}`)">
          <td class="f-lead"><Door v-bind="d.door" /></td>
          <td class="no f-side">{{ d.code }}</td>
          <td class="f-main">
            <RouterLink :to="`/dossiers/${d.code}`" class="name" @click.stop>{{ d.name }}</RouterLink>
            <span class="s">{{ d.subject }}</span>
          </td>
          <td class="f-line">
            <template v-if="d.client">{{ d.client }}</template>
            <span v-else class="quiet">{{ t(`dossiers.${d.kind}`) }}</span>
          </td>
          <td class="r f-away">{{ d.documents }}</td>
          <td class="r f-away">{{ said.size(d.bytes) }}</td>
          <td class="ev f-line">
            <template v-if="d.lastEvent">
              {{
                t(`eventShort.${d.lastEvent.kind.replace('.', '_')}`, {
                  actor: said.first(d.lastEvent),
                  version: d.lastEvent.version,
                  person: d.lastEvent.data?.person,
                })
              }}
              <span class="s" :title="said.full(d.lastEvent.at)">{{ said.when(d.lastEvent.at) }}</span>
            </template>
          </td>
        </tr>
      </tbody>
    </Rows>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
    <p class="small quiet" style="padding-top: 10px">{{ t('dossiers.foot') }}</p>
  </main>
</template>

<style scoped>
.bodies {
  margin-top: 14px;
}
</style>
