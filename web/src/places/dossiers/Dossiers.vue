<script setup lang="ts">
import { useDossiers } from '../../queries/dossiers'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import IconPlus from '~icons/ph/folder-plus'
import { useSaid } from '../../sentences/said'
import Door from '../../parts/Door.vue'
import Failed from '../../app/Failed.vue'
import NewDossier from './NewDossier.vue'

const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const writing = ref(false)
const { data: dossiers, error, refetch } = useDossiers()
const summary = computed(() =>
  dossiers.value ? t('dossiers.summary', { n: said.count(dossiers.value.length).toLowerCase() }, dossiers.value.length) : '',
)
</script>

<template>
  <main id="content" class="plain">
    <header>
      <div>
        <h1>{{ t('dossiers.title') }}</h1>
        <p class="terms">{{ summary }}</p>
      </div>
      <div class="acts">
        <button v-if="!writing" type="button" class="btn btn-primary" @click="writing = true">
          <IconPlus aria-hidden="true" />
          {{ t('dossiers.make') }}
        </button>
      </div>
    </header>
    <NewDossier v-if="writing" @discard="writing = false" />
    <Failed v-if="error && !dossiers" :error="error" @again="refetch()" />
    <div v-else-if="dossiers && !dossiers.length" class="empty" style="padding-left: 0">
      <h2>{{ t('dossiers.emptyTitle') }}</h2>
      <p>{{ t('dossiers.empty') }}</p>
    </div>
    <table v-else-if="dossiers" class="register toned bodies">
      <colgroup>
        <col style="width: 58px" />
        <col style="width: 84px" />
        <col />
        <col class="c-for" style="width: 180px" />
        <col style="width: 96px" />
        <col class="c-room" style="width: 92px" />
        <col class="c-last" style="width: 176px" />
      </colgroup>
      <thead>
        <tr>
          <th scope="col">{{ t('dossiers.columns.door') }}</th>
          <th scope="col">{{ t('dossiers.columns.code') }}</th>
          <th scope="col">{{ t('dossiers.columns.name') }}</th>
          <th scope="col" class="c-for">{{ t('dossiers.columns.for') }}</th>
          <th scope="col" class="r">{{ t('dossiers.columns.documents') }}</th>
          <th scope="col" class="r c-room">{{ t('dossiers.columns.room') }}</th>
          <th scope="col" class="c-last">{{ t('dossiers.columns.last') }}</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="d in dossiers" :key="d.id" @click="router.push(`/dossiers/${d.code}`)">
          <td><Door v-bind="d.door" /></td>
          <td class="no">{{ d.code }}</td>
          <td>
            <RouterLink :to="`/dossiers/${d.code}`" class="name" @click.stop>{{ d.name }}</RouterLink>
            <span class="s">{{ d.subject }}</span>
          </td>
          <td class="c-for">
            <template v-if="d.client">{{ d.client }}</template>
            <span v-else class="quiet">{{ t(`dossiers.${d.kind}`) }}</span>
          </td>
          <td class="r">{{ d.documents }}</td>
          <td class="r c-room">{{ said.size(d.bytes) }}</td>
          <td class="ev c-last">
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
    </table>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
    <p class="small quiet" style="padding-top: 10px">{{ t('dossiers.foot') }}</p>
  </main>
</template>

<style scoped>
.bodies {
  margin-top: 14px;
}
.bodies td {
  height: 44px;
  padding-top: 5px;
}
.bodies a.name {
  color: var(--tb-ink);
  text-decoration: none;
  display: block;
  overflow: hidden;
  text-overflow: ellipsis;
}
@media (max-width: 900px) {
  .c-for,
  .c-room,
  .c-last {
    display: none;
  }
}
</style>
