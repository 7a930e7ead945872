<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, ref, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import { useDossier } from '../../queries/dossiers'
import { useDirectory } from '../../queries/people'
import { useOneRoute, useRoutes } from '../../queries/routes'
import { useRouteWords } from '../../sentences/route'
import RouteSentences from '../../sentences/RouteSentences.vue'
import { useSaid } from '../../sentences/said'
import CaseWords from './CaseWords.vue'
import ConditionWords from './ConditionWords.vue'
import { saveFile } from './file'
import Flaws from './Flaws.vue'
import StartWords from './StartWords.vue'
import Trial from './Trial.vue'
import WhoWords from './WhoWords.vue'

/** A route: read as numbered sentences, or written, with what does not hold at its word; tried, switched on and off. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const { data: found, error, refetch } = useOneRoute(() => props.id)
const { data: others } = useRoutes()
/** As it was read or kept last, and what is being written over it. */
const page = shallowRef<Schemas['RoutePage']>()
const draft = ref<Schemas['RouteDefinition']>()
const writing = ref(false)
/** A copy of what is plain data, as a definition is. */
const copyOf = <T,>(v: T): T => JSON.parse(JSON.stringify(v)) as T
watch(
  found,
  (now) => {
    if (!now || (writing.value && page.value)) return
    page.value = now
    draft.value = copyOf(now.definition)
    writing.value = now.line.manages && (now.line.writing || !now.line.edition)
  },
  { immediate: true },
)
const line = computed(() => page.value?.line)
const { data: dossier } = useDossier(() => line.value?.folder?.dossierCode ?? '')
const folders = computed(() =>
  (dossier.value?.folders ?? []).filter((f) => f.may.includes('add')).map((f) => ({ id: f.id as string, number: f.number, name: f.name })),
)
const routes = computed(() => (others.value ?? []).filter((r) => r.on && r.id !== props.id))
const { data: directory } = useDirectory()
const people = computed(() => [
  ...(directory.value?.accounts ?? []).map((a) => ({ id: a.person.id, name: a.person.name })),
  ...(directory.value?.groups ?? []).map((g) => ({ id: g.id, name: g.name })),
])
const words = useRouteWords(() => ({
  people: [...(page.value?.names ?? []), ...people.value],
  folders: [...(page.value?.folders ?? []), ...folders.value],
  routes: others.value ?? [],
}))
const problems = computed(() => page.value?.problems ?? [])
const edition = computed(() => (line.value?.edition ?? 0) + 1)

const { act, busy, wrong } = useAct()
const keptAt = ref<string>()
async function keep() {
  if (!draft.value || !line.value) return
  const written = JSON.stringify(draft.value)
  await act(async () => {
    const now = await data(
      api.PUT('/routes/{id}', { params: { path: { id: props.id } }, body: { definition: draft.value!, since: line.value!.changedAt } }),
    )
    page.value = now
    keptAt.value = now.line.changedAt
  })
  // What was written while it was being kept follows.
  if (JSON.stringify(draft.value) !== written) void keep()
}
const soon = useDebounceFn(keep, 350)
function change(fn: (d: Schemas['RouteDefinition']) => void) {
  if (!draft.value) return
  fn(draft.value)
  draft.value = { ...draft.value }
  void soon()
}
const letter = (j: number) => String.fromCharCode(97 + j)
function fix(p: Schemas['RouteProblem']) {
  const m = /^\/stops\/(\d+)\/cases\/(\d+)\/when\/test\/value$/.exec(p.at)
  if (m) change((d) => (d.stops[Number(m[1])]!.cases[Number(m[2])]!.when!.test!.value = p.fix))
}
const firstTest = (): Schemas['Condition'] => {
  const p = words.particulars.value[0]
  return { test: p ? { of: 'particular', particular: p.id, is: 'set' } : { of: 'type', is: 'is', value: 'pdf' } }
}
function addStop() {
  change((d) => d.stops.push({ cases: [{ do: 'approve', who: [], within: { n: 2, unit: 'days' } }] }))
}
/** A stop becomes one that branches: what it does where something is set, and otherwise. */
function branch(i: number) {
  change((d) => {
    const s = d.stops[i]!
    if (s.cases.length === 1)
      s.cases = [
        { ...s.cases[0]!, when: firstTest() },
        { ...copyOf(s.cases[0]!), when: undefined },
      ]
    else s.cases.splice(s.cases.at(-1)?.when ? s.cases.length : s.cases.length - 1, 0, { do: 'approve', who: [], when: firstTest() })
  })
}
function leaveCase(i: number, j: number) {
  change((d) => {
    d.stops[i]!.cases.splice(j, 1)
    if (d.stops[i]!.cases.length === 1) d.stops[i]!.cases[0]!.when = undefined
  })
}
async function switchTo(on: boolean) {
  const name = draft.value!.name
  const done = await act(() => api.PUT('/routes/{id}/switch', { params: { path: { id: props.id } }, body: { on } }), {
    done: t(`routes.done.${on ? 'on' : 'off'}`, { name }),
  })
  if (done) {
    writing.value = false
    page.value = undefined
    await refetch()
  }
}
async function discard() {
  const fresh = !line.value?.edition
  if (!(await act(() => api.DELETE('/routes/{id}/draft', { params: { path: { id: props.id } } }), { done: t('routes.done.discarded') })))
    return
  if (fresh) return void router.push('/routes')
  writing.value = false
  page.value = undefined
  await refetch()
}
async function remove() {
  const name = line.value!.name
  if (await act(() => api.DELETE('/routes/{id}', { params: { path: { id: props.id } } }), { done: t('routes.done.removed', { name }) }))
    void router.push('/routes')
}
function takeOut() {
  saveFile(`${draft.value!.name}.route.json`, {
    format: 'tabularis-route/1',
    definition: draft.value!,
    names: Object.fromEntries([...(page.value?.names ?? []), ...(page.value?.folders ?? [])].map((n) => [n.id, n.name])),
  })
}
</script>

<template>
  <main id="content" class="writes">
    <Failed v-if="error && !page" :error="error" @again="refetch()" />
    <p v-else-if="!page || !line || !draft" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <div class="text">
        <p class="small up">
          <RouterLink class="go" to="/routes">{{ t('routes.title') }}</RouterLink>
        </p>
        <header>
          <h1>
            <WordField :label="t('routes.name')" :value="draft.name" :may="writing" @set="$event && change((d) => (d.name = $event))" />
          </h1>
          <p class="small quiet">
            <RouterLink v-if="line.folder" class="go" :to="`/dossiers/${line.folder.dossierCode}/${line.folder.id}`">
              {{ t('routes.editionOn', { folder: line.folder.name, n: line.edition || edition }) }}
            </RouterLink>
            {{
              writing && line.on
                ? t('routes.editionNext', { n: edition })
                : line.on
                  ? t('routes.on')
                  : line.stopped
                    ? t(`routes.stopped.${line.stopped}`)
                    : t('routes.off')
            }}
          </p>
        </header>
        <Flaws :problems="problems" at="/name" />
        <p class="terms purpose">
          <WordField
            :label="t('routes.purpose')"
            :value="draft.purpose ?? ''"
            :placeholder="writing ? t('routes.purpose') : ''"
            :may="writing"
            @set="change((d) => (d.purpose = $event || undefined))"
          />
        </p>
        <p v-if="line.folder" class="terms">
          {{ writing ? t('routes.willAct', { folder: line.folder.name }) : t('routes.placedBy', { name: line.placedBy ?? '' }) }}
        </p>
        <RouteSentences v-if="!writing" :definition="draft" :names="{ people: page.names, folders: page.folders, routes: others }" />
        <ol v-else class="stops">
          <li>
            <i aria-hidden="true">·</i>
            <div class="terms">
              <template v-for="(s, i) in draft.starts" :key="i">
                <StartWords
                  :model-value="s"
                  :first="i === 0"
                  :words="words"
                  :folders="folders"
                  :routes="routes"
                  :here="line.folder?.name ?? ''"
                  @update:model-value="change((d) => (d.starts[i] = $event))"
                />
                <button
                  v-if="draft.starts.length > 1"
                  type="button"
                  class="plus"
                  :aria-label="t('routes.minus')"
                  @click="change((d) => d.starts.splice(i, 1))"
                >
                  −
                </button>
                <Flaws :problems="problems" :at="`/starts/${i}`" />
              </template>
              <template v-if="draft.if">
                {{ t('routes.onlyIf', { condition: '' }).replace(/\.$/, '') }}
                <ConditionWords :model-value="draft.if" :words="words" @update:model-value="change((d) => (d.if = $event))" />
                <button type="button" class="plus" :aria-label="t('routes.minus')" @click="change((d) => (d.if = undefined))">−</button>
              </template>
              <Flaws :problems="problems" at="/if" />
              <Flaws :problems="problems" at="/starts" exact />
              <p class="plus-row">
                <button type="button" class="plus" @click="change((d) => d.starts.push({ on: 'hand' }))">
                  {{ t('routes.plus.start') }}
                </button>
                <button v-if="!draft.if" type="button" class="plus" @click="change((d) => (d.if = firstTest()))">
                  {{ t('routes.plus.if') }}
                </button>
              </p>
            </div>
          </li>
          <li v-for="(s, i) in draft.stops" :key="i" :data-stop="i + 1">
            <i>{{ i + 1 }}</i>
            <div class="terms">
              <p v-if="s.only">
                {{ t('routes.only', { condition: '' }).replace(/: $/, '') }}
                <ConditionWords :model-value="s.only" :words="words" @update:model-value="change((d) => (d.stops[i]!.only = $event))" />
                :
                <button type="button" class="plus" :aria-label="t('routes.minus')" @click="change((d) => (d.stops[i]!.only = undefined))">
                  −
                </button>
                <Flaws :problems="problems" :at="`/stops/${i}/only`" />
              </p>
              <p v-if="s.cases.length > 1">{{ t('routes.by') }}</p>
              <div v-for="(c, j) in s.cases" :key="j" :class="{ branch: s.cases.length > 1 }" :data-case="`${i + 1}${letter(j)}`">
                <template v-if="s.cases.length > 1">
                  <small class="no">{{ i + 1 }}{{ letter(j) }}</small>
                  <template v-if="c.when">
                    <ConditionWords
                      :model-value="c.when"
                      :words="words"
                      @update:model-value="change((d) => (d.stops[i]!.cases[j]!.when = $event))"
                    />
                    :
                  </template>
                  <template v-else>{{ t('routes.otherwise') }}</template>
                  {{ ' ' }}
                </template>
                <CaseWords
                  :model-value="c"
                  :words="words"
                  :folders="folders"
                  :routes="routes"
                  :number="i + 1"
                  @update:model-value="change((d) => (d.stops[i]!.cases[j] = $event))"
                />
                <button v-if="s.cases.length > 1" type="button" class="plus" :aria-label="t('routes.minus')" @click="leaveCase(i, j)">
                  −
                </button>
                <Flaws :problems="problems" :at="`/stops/${i}/cases/${j}`" @fix="fix" />
              </div>
              <Flaws :problems="problems" :at="`/stops/${i}/cases`" exact />
              <Flaws :problems="problems" :at="`/stops/${i}`" exact />
              <p class="plus-row">
                <button type="button" class="plus" @click="branch(i)">
                  {{ t(s.cases.length > 1 ? 'routes.plus.more' : 'routes.plus.case') }}
                </button>
                <button v-if="!s.only" type="button" class="plus" @click="change((d) => (d.stops[i]!.only = firstTest()))">
                  {{ t('routes.plus.only') }}
                </button>
                <button
                  v-if="i > 0"
                  type="button"
                  class="plus"
                  @click="change((d) => d.stops.splice(i - 1, 2, d.stops[i]!, d.stops[i - 1]!))"
                >
                  {{ t('routes.up') }}
                </button>
                <button v-if="draft.stops.length > 1" type="button" class="plus" @click="change((d) => d.stops.splice(i, 1))">
                  {{ t('routes.minus') }}
                </button>
              </p>
            </div>
          </li>
          <li>
            <i aria-hidden="true">+</i>
            <div class="terms">
              <button type="button" class="plus" @click="addStop">{{ t('routes.plus.stop') }}</button>
              <p class="small">
                {{ t('routes.onContent') }}
                <SentenceSelect
                  :model-value="draft.content ?? 'again'"
                  :label="t('routes.onContent')"
                  :options="(['again', 'lapse'] as const).map((value) => ({ value, words: t(`routes.content.${value}`) }))"
                  then="."
                  @update:model-value="change((d) => (d.content = $event))"
                />
                <template v-if="draft.callOff">
                  {{ ` ${t('routes.callOff')} ` }}
                  <WhoWords
                    :model-value="draft.callOff"
                    :label="t('routes.callOff')"
                    :name="words.one"
                    @update:model-value="change((d) => (d.callOff = $event.length ? $event : undefined))"
                  />
                </template>
                <button v-else type="button" class="plus" @click="change((d) => (d.callOff = [{ role: 'author' }]))">
                  {{ t('routes.plus.callOff') }}
                </button>
              </p>
              <Flaws :problems="problems" at="/stops" exact />
              <Flaws :problems="problems" at="/callOff" />
            </div>
          </li>
        </ol>
        <section v-if="line.folder && line.manages" class="gains">
          <h2>{{ t('routes.gains') }}</h2>
          <p v-if="!page.gains.length" class="small quiet">{{ t('routes.gainsNone') }}</p>
          <p v-for="(g, i) in page.gains" :key="i" class="small">
            {{
              g.folder
                ? t('routes.gainsMove', { n: g.stop, who: said.list(g.people), folder: g.folder.name }, g.people.length)
                : t('routes.gainsGive', { n: g.stop, to: said.list(g.to) })
            }}
          </p>
        </section>
        <footer v-if="line.manages">
          <p aria-live="polite">
            <template v-if="writing && line.folder">
              <b :class="{ 't-caution': problems.length }">
                {{ problems.length ? t('routes.flawed', { n: problems.length }, problems.length) : t('routes.holds') }}
              </b>
              <br />
            </template>
            <span v-if="keptAt" class="small quiet">{{ t('routes.kept', { when: said.when(keptAt) }) }}</span>
            <span v-if="wrong" class="t-caution" role="alert">{{ wrong }}</span>
          </p>
          <div class="acts">
            <button type="button" class="btn btn-text" @click="takeOut">{{ t('routes.file') }}</button>
            <RouterLink v-if="line.edition" class="btn btn-text" :to="`/routes/${id}/runs`">{{ t('routes.runs') }}</RouterLink>
            <template v-if="writing">
              <button type="button" class="btn btn-text" :disabled="busy" @click="discard">
                {{ line.edition ? t('routes.discard', { n: edition }) : t('routes.discardNew') }}
              </button>
              <button
                v-if="line.folder"
                type="button"
                class="btn btn-primary"
                :disabled="busy || problems.length > 0"
                @click="switchTo(true)"
              >
                {{ t('routes.switchOn', { n: edition }) }}
              </button>
            </template>
            <template v-else>
              <button type="button" class="btn btn-text" :disabled="busy" @click="remove">{{ t('routes.remove') }}</button>
              <button v-if="line.on" type="button" class="btn btn-plain" :disabled="busy" @click="switchTo(false)">
                {{ t('routes.switchOff') }}
              </button>
              <button v-else-if="line.folder" type="button" class="btn btn-plain" :disabled="busy" @click="switchTo(true)">
                {{ t('routes.switchOnSame') }}
              </button>
              <button type="button" class="btn btn-primary" @click="writing = true">{{ t('routes.change', { n: edition }) }}</button>
            </template>
          </div>
        </footer>
        <p v-else-if="line.edition" class="small">
          <RouterLink class="go" :to="`/routes/${id}/runs`">{{ t('routes.runs') }}</RouterLink>
        </p>
      </div>
      <Trial v-if="line.manages && line.folder" :id="id" :definition="draft" :edition="line.edition" :writing="writing" />
    </template>
  </main>
</template>

<style scoped>
.up .go {
  display: inline-block;
  padding-block: var(--tb-s1);
}
.writes {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 400px;
  height: calc(100dvh - 52px);
}
.text {
  padding: 18px 32px 0;
  overflow-y: auto;
  background: var(--tb-sheet);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: var(--tb-s4);
}
header p {
  margin: 0;
  text-align: right;
}
.purpose {
  margin: 0 0 var(--tb-s2);
}
.stops {
  list-style: none;
  margin: var(--tb-s4) 0;
  padding: 0;
}
.stops > li {
  position: relative;
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr);
  padding-bottom: var(--tb-s4);
}
.stops > li:not(:last-child)::before {
  content: '';
  position: absolute;
  left: 11px;
  top: 12px;
  bottom: -10px;
  border-left: 2px solid var(--tb-ink);
}
.stops i {
  position: relative;
  width: 24px;
  height: 24px;
  line-height: 24px;
  text-align: center;
  border-radius: 50%;
  background: var(--tb-ink);
  color: var(--tb-sheet);
  font-style: normal;
  font-size: var(--tb-small);
}
.stops p {
  margin: 0;
}
.plus-row {
  display: flex;
  flex-wrap: wrap;
  gap: 0 14px;
}
/* What can be added stands there once one is at the sentence; on a screen that is touched, always. */
@media (hover: hover) {
  .stops > li:not(:hover):not(:focus-within) :deep(.pluses),
  .stops > li:not(:hover):not(:focus-within):not(:last-child) .plus-row {
    opacity: 0;
  }
}
.branch {
  position: relative;
  padding: 4px 0 4px 36px;
}
.branch .no {
  position: absolute;
  left: 0;
  top: 8px;
  color: var(--tb-quiet);
}
.gains {
  margin-bottom: var(--tb-s4);
}
.gains p {
  margin: 0;
}
footer {
  position: sticky;
  bottom: 0;
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: var(--tb-s2) var(--tb-s4);
  margin: 0 -32px;
  padding: var(--tb-s3) 32px;
  border-top: 2px solid var(--tb-ink);
  background: var(--tb-sheet);
}
footer p {
  margin: 0;
}
footer .acts {
  flex-wrap: wrap;
}
@media (max-width: 1000px) {
  .writes {
    display: block;
    height: auto;
  }
  .text {
    padding: 14px 16px 0;
  }
  footer {
    position: static;
    margin: 0 -16px;
    padding: var(--tb-s3) 16px;
  }
}
</style>
