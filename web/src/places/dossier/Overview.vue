<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSession } from '../../app/session'
import Door from '../../parts/Door.vue'
import { useActivity } from '../../queries/activity'
import { useLinks } from '../../queries/links'
import EventWords from '../../sentences/EventWords.vue'
import KeepingRule from '../../sentences/KeepingRule.vue'
import { useSaid } from '../../sentences/said'
import ChangeDossier from '../dossiers/ChangeDossier.vue'
import StanceWord from '../following/StanceWord.vue'
import Reach from '../sharing/Reach.vue'
import { bagOf } from './thingacts'

/** What there is to know of a dossier beside its contents: who is in, what is out, and what is new. */
const props = defineProps<{ dossier: Schemas['Dossier']; letIn: boolean }>()
defineEmits<{ letIn: []; remove: [] }>()
const { t } = useI18n()
const said = useSaid()
const { data: links } = useLinks(() => ({ dossier: props.dossier.code }))
const { data: news } = useActivity(() => ({ dossier: props.dossier.code }))
const changing = ref(false)
const { act, busy } = useAct()
const put = (aside: boolean) => api.PUT('/dossiers/{code}/aside', { params: { path: { code: props.dossier.code } }, body: { aside } })
const asideWords = (aside: boolean) => t(aside ? 'dossiers.nowAside' : 'dossiers.nowUp', { code: props.dossier.code })
const setAside = (aside: boolean) =>
  act(() => put(aside), { done: asideWords(aside), undo: { do: () => put(!aside), done: asideWords(!aside) }, aloud: true })
const mayChange = computed(() => props.dossier.may.includes('manage') && props.dossier.kind !== 'desk')
const store = useSession()
const mayRepeat = computed(() => store.session?.standing !== 'guest' && props.dossier.kind !== 'desk')
const mayRemove = computed(() => mayChange.value && props.dossier.may.includes('delete'))
const about = computed(() => [props.dossier.subject, props.dossier.client].filter(Boolean).join(', '))
const events = computed(() => news.value?.pages[0]?.events.slice(0, 8) ?? [])
</script>

<template>
  <aside class="slip overview" :aria-label="t('dossier.overview', { name: dossier.name })">
    <header>
      <h2>{{ t('dossier.glance') }}</h2>
      <p v-if="dossier.aside" class="small">{{ t('dossiers.isAside') }}</p>
      <p v-if="!changing && about" class="small quiet">{{ about }}</p>
      <ChangeDossier v-if="changing" :dossier="dossier" @done="changing = false" />
      <div v-else class="acts">
        <button v-if="letIn" type="button" class="btn btn-plain btn-small" @click="$emit('letIn')">{{ t('access.letIn') }}</button>
        <button v-if="mayChange" type="button" class="go small" @click="changing = true">{{ t('dossiers.change') }}</button>
        <button v-if="mayChange" type="button" class="go small" :disabled="busy" @click="setAside(!dossier.aside)">
          {{ t(dossier.aside ? 'dossiers.takeUp' : 'dossiers.setAside') }}
        </button>
        <RouterLink v-if="mayRepeat" class="go small" :to="{ path: '/dossiers', query: { like: dossier.code } }">
          {{ t('dossiers.another') }}
        </RouterLink>
        <a v-if="dossier.may.includes('download')" class="go small" :href="bagOf([dossier])" download>{{ t('dossier.bag') }}</a>
        <button v-if="mayRemove" type="button" class="go small" @click="$emit('remove')">{{ t('deletion.dossierMenu') }}</button>
      </div>
      <StanceWord :id="dossier.id" kind="dossier" />
    </header>
    <Reach :item="dossier.id" kind="dossier" :dossier="dossier.code" />
    <section>
      <h3>{{ t('dossier.whatIsOut') }}</h3>
      <ul v-if="links?.length" class="out">
        <li v-for="l in links.slice(0, 6)" :key="l.id">
          <Door state="open" />
          <span>
            <RouterLink to="/outward">{{ l.name }}</RouterLink>
            <br />
            <span class="small quiet">{{ l.until ? t('dossier.outUntil', { when: said.when(l.until) }) : t('outward.noEnd') }}</span>
          </span>
        </li>
      </ul>
      <p v-if="links && links.length > 6" class="small">
        <RouterLink to="/outward">{{ t('dossier.moreOut', { n: links.length - 6 }, links.length - 6) }}</RouterLink>
      </p>
      <p v-if="links && !links.length" class="quiet small">{{ t('dossier.nothingOut') }}</p>
    </section>
    <section>
      <h3>{{ t('dossier.versionsKept') }}</h3>
      <KeepingRule :dossier="dossier.code" />
    </section>
    <section>
      <h3>{{ t('dossier.whatIsNew') }}</h3>
      <ul class="trail">
        <li v-for="e in events" :key="e.id">
          <time :datetime="e.at" :title="said.full(e.at)">{{ said.when(e.at) }}</time>
          <EventWords :event="e" />
        </li>
      </ul>
    </section>
  </aside>
</template>

<style scoped>
header .acts {
  flex-wrap: wrap;
}
header .go {
  white-space: nowrap;
}
h3 {
  margin: var(--tb-s3) 0 var(--tb-s1);
}
.trail :deep(a) {
  color: inherit;
  text-decoration: underline;
  text-decoration-color: var(--tb-rule);
  text-underline-offset: 3px;
}
.out {
  list-style: none;
  padding: 0;
  margin: 0;
}
.out li {
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr);
  padding: var(--tb-s1) 0;
  font-size: var(--tb-text);
}
@media (max-width: 900px) {
  .overview {
    border-left: 0;
  }
}
</style>
