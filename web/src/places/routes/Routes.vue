<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import { useRoutes } from '../../queries/routes'

/** The routes of all folders that one sees, and the practice's models; a new one is begun on a folder or as a model. */
const { t } = useI18n()
const at = useRoute()
const router = useRouter()
const store = useSession()
const { data: routes, error, refetch } = useRoutes()
const administers = computed(() => ['administrator', 'proprietor'].includes(store.session?.standing ?? ''))
/** On which folder one is about to be placed, as an address says. */
const folder = computed(() =>
  typeof at.query.folder === 'string' ? { id: at.query.folder, name: String(at.query.name ?? '') } : undefined,
)
const models = computed(() => routes.value?.filter((r) => !r.folder) ?? [])
const placed = computed(() => routes.value?.filter((r) => r.folder) ?? [])
const { act, busy, wrong } = useAct()
const notAFile = ref(false)
const blank = (): Schemas['RouteDefinition'] => ({
  name: t('routes.newName'),
  starts: [{ on: 'hand' }, ...(folder.value ? [{ on: 'arrives' as const }] : [])],
  stops: [{ cases: [{ do: 'approve', who: [], notAuthor: true, within: { n: 2, unit: 'days' } }] }],
})
async function make(definition: Schemas['RouteDefinition'], onto = folder.value?.id) {
  let id = ''
  if (await act(async () => (id = (await data(api.POST('/routes', { body: { folder: onto, definition } }))).id)))
    void router.push(`/routes/${id}`)
}
async function place(model: Schemas['RouteLine']) {
  const page = await data(api.GET('/routes/{id}', { params: { path: { id: model.id } } }))
  await make(page.definition)
}
async function bring(e: Event) {
  const field = e.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  notAFile.value = false
  if (!file) return
  try {
    const read = JSON.parse(await file.text()) as { format?: string; definition?: Schemas['RouteDefinition'] }
    if (read.format !== 'tabularis-route/1' || !read.definition) throw new Error()
    await make(read.definition)
  } catch {
    notAFile.value = true
  }
}
</script>

<template>
  <main id="content" class="plain">
    <p class="small">
      <RouterLink class="go" to="/decisions">{{ t('decisions.title') }}</RouterLink>
    </p>
    <header>
      <div>
        <h1>{{ t('routes.title') }}</h1>
        <p class="terms">{{ t('routes.hint') }}</p>
      </div>
      <div v-if="folder || administers" class="acts">
        <label class="btn btn-plain">
          {{ t('routes.fromFile') }}
          <input type="file" accept=".json,application/json" class="visually-hidden" @change="bring" />
        </label>
        <button type="button" class="btn btn-primary" :disabled="busy" @click="make(blank())">
          {{ folder ? t('routes.writeHere', { folder: folder.name }) : t('routes.write') }}
        </button>
      </div>
    </header>
    <p v-if="wrong || notAFile" class="t-caution" role="alert">{{ notAFile ? t('routes.notAFile') : wrong }}</p>
    <Failed v-if="error && !routes" :error="error" @again="refetch()" />
    <p v-else-if="!routes" class="quiet">{{ t('common.loading') }}</p>
    <p v-else-if="!routes.length" class="empty">{{ t('routes.none') }}</p>
    <template
      v-for="part in [
        { key: 'models', all: models },
        { key: 'onFolders', all: placed },
      ]"
      v-else
      :key="part.key"
    >
      <section v-if="part.all.length">
        <h2>{{ t(`routes.${part.key}`) }}</h2>
        <ul>
          <li v-for="r in part.all" :key="r.id" :data-route="r.name">
            <div>
              <RouterLink :to="`/routes/${r.id}`">{{ r.name }}</RouterLink>
              <p v-if="r.purpose" class="small quiet">{{ r.purpose }}</p>
            </div>
            <RouterLink v-if="r.folder" class="small" :to="`/dossiers/${r.folder.dossierCode}/${r.folder.id}`">
              <span class="no">{{ r.folder.dossierCode }}</span>
              {{ r.folder.name }}
            </RouterLink>
            <span v-else></span>
            <span class="small">
              <template v-if="r.stopped">
                <b class="t-caution">{{ t(`routes.stopped.${r.stopped}`) }}</b>
              </template>
              <template v-else-if="r.folder">
                {{ r.on ? `${t('routes.on')}, ${t('routes.edition', { n: r.edition })}` : t('routes.off') }}
              </template>
              <template v-if="r.writing && r.folder">{{ ` · ${t('routes.draft')}` }}</template>
            </span>
            <RouterLink v-if="r.edition" class="small" :to="`/routes/${r.id}/runs`">
              {{ r.going + r.held + r.done ? t('routes.counts', { going: r.going, held: r.held, done: r.done }) : t('routes.countsNone') }}
            </RouterLink>
            <button v-else-if="!r.folder && folder" type="button" class="btn btn-plain btn-small" :disabled="busy" @click="place(r)">
              {{ t('routes.useModel', { folder: folder.name }) }}
            </button>
          </li>
        </ul>
      </section>
    </template>
  </main>
</template>

<style scoped>
section {
  margin-top: var(--tb-s5);
}
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
  margin: 0;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 1.2fr) minmax(0, 1.2fr) minmax(0, 1.4fr);
  gap: var(--tb-s1) var(--tb-s4);
  align-items: baseline;
  padding: 9px 0;
  border-bottom: 1px solid var(--tb-line);
}
li p {
  margin: 0;
}
.acts {
  flex: none;
}
@media (max-width: 900px) {
  li {
    grid-template-columns: minmax(0, 1fr);
  }
  .acts {
    flex-wrap: wrap;
    margin-top: var(--tb-s2);
  }
}
</style>
