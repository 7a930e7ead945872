<script setup lang="ts">
import { useDirectory } from '../../queries/people'
import { dossierKeys, useDossier } from '../../queries/dossiers'
import { useQueryClient } from '@tanstack/vue-query'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { BDropdown, BDropdownItemButton, BOffcanvas } from 'bootstrap-vue-next'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import IconCaret from '~icons/ph/caret-down'
import IconPlane from '~icons/ph/paper-plane-tilt'
import IconEye from '~icons/ph/eye'
import IconUpload from '~icons/ph/upload-simple'
import { type Schemas } from '../../api/client'
import { tell } from '../../app/notices'
import { useSaid } from '../../sentences/said'
import Missing from '../../app/Missing.vue'
import Failed from '../../app/Failed.vue'
import { chosen as chosenFiles, dropped } from '../../uploads/dropped'
import { useTray } from '../../uploads/tray'
import Contents from './Contents.vue'
import { dragType } from './dragged'
import FolderSlip from '../sharing/FolderSlip.vue'
import Give from '../sharing/Give.vue'
import MoveSheet from './MoveSheet.vue'
import NewFolder from './NewFolder.vue'
import Register from './Register.vue'
import Slip from './Slip.vue'
import SlipOfMany from './SlipOfMany.vue'
import ViewSheet from './ViewSheet.vue'

/** A dossier: contents at the left, the folder's register in the middle, the chosen document's slip at the right. */
const props = defineProps<{ code: string; folder?: string }>()
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const router = useRouter()
const queries = useQueryClient()
const tray = useTray()
const narrow = useMediaQuery('(max-width: 900px)')

/** Looked at as another member would see it: nothing can be changed then. */
const as = computed(() => (typeof route.query.as === 'string' ? route.query.as : undefined))
const comparing = ref(false)
watch(as, () => (comparing.value = false))
const { data: people } = useDirectory(() => !!as.value)
const asName = computed(() => people.value?.accounts.find((a) => a.person.id === as.value)?.person.name ?? '…')
const { data: dossier, error, refetch } = useDossier(() => props.code, as, comparing)
const firstFolder = computed(() => dossier.value?.folders.find((f) => f.number && f.documents > 0) ?? dossier.value?.folders[0])
const here = computed(() => dossier.value?.folders.find((f) => f.id === props.folder) ?? (props.folder ? undefined : firstFolder.value))
const may = (cap: string) => !as.value && (here.value?.may.includes(cap) ?? false)

/** Where one was before it was taken away: that is what one may ask for. */
const lastHere = ref<string>()
watch(
  () => here.value?.id,
  (id) => id && (lastHere.value = id),
  { immediate: true },
)
const shown = computed(() => (typeof route.query.document === 'string' ? route.query.document : undefined))
const reaching = computed(() => route.query.reach === '1' && !shown.value && !chosen.value.length)
const chosen = ref<Schemas['DocumentRow'][]>([])
const page = ref<Schemas['RegisterPage']>()
const giving = ref<{ items: string[]; people?: boolean } | null>(null)
const naming = ref(false)
const moving = ref<{ items: string[]; names: string[]; to?: string } | null>(null)
const looking = ref<Schemas['Document'] | null>(null)
const contentsOpen = ref(false)
/** Where the chosen row stands, so that it reaches into the slip like an index card's tab. */
const tab = ref<number>()

watch(
  () => here.value?.id,
  () => {
    chosen.value = []
    giving.value = null
    moving.value = null
    contentsOpen.value = false
  },
)

function show(id?: string) {
  void router.replace({
    path: `/dossiers/${props.code}/${here.value?.id}`,
    query: { ...(id ? { document: id } : {}), ...(as.value ? { as: as.value } : {}) },
  })
}

/** What is given out: the chosen documents, the one that is shown, or the folder. */
function giveOut(items?: string[], people = false) {
  const what = items ?? (chosen.value.length ? chosen.value.map((c) => c.id) : [shown.value ?? here.value?.id ?? ''])
  giving.value = { items: what, people }
}

function moveRows(rows: Schemas['DocumentRow'][]) {
  giving.value = null
  chosen.value = rows
  moving.value = { items: rows.map((r) => r.id), names: rows.map((r) => r.name) }
}
function moveFolder(id: string) {
  const f = dossier.value?.folders.find((x) => x.id === id)
  if (f) moving.value = { items: [f.id], names: [`${f.number} ${f.name}`] }
}
/** What was dragged onto a folder: nothing happens before it is said what it means. */
function movedOnto(folder: string, ids: string[]) {
  const rows = chosen.value.filter((c) => ids.includes(c.id))
  const folders = dossier.value?.folders.filter((f) => ids.includes(f.id)) ?? []
  const names = [...rows.map((r) => r.name), ...folders.map((f) => `${f.number} ${f.name}`)]
  moving.value = { items: ids, names: names.length === ids.length ? names : ids.map(() => t('move.dragged')), to: folder }
}

const fileField = ref<HTMLInputElement>()
const folderField = ref<HTMLInputElement>()
function toggleReach() {
  void router.replace({ path: `/dossiers/${props.code}/${here.value?.id}`, query: reaching.value ? {} : { reach: '1' } })
}
const givesFolder = computed(() => giving.value?.items.length === 1 && giving.value.items[0] === here.value?.id)
/** Who can open the folder, as its heading says it. */
const reachWords = computed(() => {
  const f = here.value
  if (!f) return ''
  if (f.through) return t('access.onlySome')
  const d = f.door
  return d.state === 'ajar'
    ? t('access.headOutside', { n: said.count(d.count) }, d.count)
    : d.state === 'open'
      ? t('dossier.folderLinked')
      : t('dossier.people', { n: said.count(d.count) }, d.count)
})
function bring(e: Event) {
  const field = e.target as HTMLInputElement
  if (here.value && field.files) tray.bring(here.value.id, chosenFiles(field.files))
  field.value = ''
}

const over = ref(0)
const fromOutside = (e: DragEvent) => e.dataTransfer?.types.includes('Files') ?? false
async function drop(e: DragEvent) {
  over.value = 0
  if (!here.value || !may('add') || !e.dataTransfer || e.dataTransfer.types.includes(dragType)) return
  tray.bring(here.value.id, await dropped(e.dataTransfer))
}

async function folderMade(name: string) {
  naming.value = false
  tell(t('dossier.folderMade', { name }))
  await queries.invalidateQueries({ queryKey: dossierKeys.of(props.code) })
}

const archive = computed(
  () =>
    `/api/archive?${(chosen.value.length ? chosen.value.map((c) => c.id) : [here.value?.id ?? '']).map((id) => `item=${id}`).join('&')}`,
)
const chosenBytes = computed(() => chosen.value.reduce((sum, c) => sum + c.size, 0))
const chosenWhat = computed(() => {
  const numbers = chosen.value.map((c) => String(c.number).padStart(3, '0'))
  return numbers.length > 5 ? t('common.documents', { n: numbers.length }, numbers.length) : numbers.join(', ')
})
const below = computed(() => (here.value?.documents ?? 0) - (page.value?.total ?? 0))

useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  const typing = e.target instanceof HTMLElement && e.target.matches('input:not([type=checkbox]), textarea, select')
  if (typing || e.ctrlKey || e.metaKey || e.altKey || looking.value) return
  if ((e.key === 'g' || e.key === 'p') && !giving.value && may('share')) {
    e.preventDefault()
    giveOut(undefined, e.key === 'p')
  } else if (e.key === 'Escape' && !giving.value && shown.value) show()
})

function doneMoving() {
  moving.value = null
  chosen.value = []
}
</script>

<template>
  <Missing v-if="(error as { problem?: { status: number } } | null)?.problem?.status === 404" :item="shown ?? folder ?? lastHere" />
  <main v-else-if="error && !dossier" id="content" class="plain"><Failed :error="error" @again="refetch()" /></main>
  <div
    v-else-if="dossier"
    class="frame"
    :class="{ 'no-slip': !shown && !chosen.length && !reaching }"
    @dragenter.prevent="over += fromOutside($event) ? 1 : 0"
    @dragleave="over -= fromOutside($event) ? 1 : 0"
    @dragover.prevent
    @drop.prevent="drop"
  >
    <Contents v-if="!narrow" :dossier="dossier" :here="here?.id" :arrange="!as" @move="moveFolder" @onto="movedOnto" />
    <BOffcanvas v-else v-model="contentsOpen" placement="bottom" :title="`${dossier.code} ${dossier.name}`">
      <Contents :dossier="dossier" :here="here?.id" bare />
    </BOffcanvas>
    <main v-if="here" id="content" class="middle">
      <div v-if="as" class="as small">
        <span>
          <IconEye class="i i-s" aria-hidden="true" />
          {{ t(comparing ? 'access.compared' : 'access.asSeen', { name: asName }) }}
        </span>
        <span class="acts">
          <button type="button" class="go" :aria-pressed="comparing" @click="comparing = !comparing">
            {{ t(comparing ? 'access.compareNot' : 'access.compare') }}
          </button>
          <RouterLink :to="`/dossiers/${code}`">{{ t('access.myView') }}</RouterLink>
        </span>
      </div>
      <div class="heading">
        <div class="row1">
          <h1>
            <button type="button" class="where only-narrow" @click="contentsOpen = true">
              <span class="no quiet">{{ here.number || dossier.code }}</span>
              {{ here.number ? here.name : dossier.name }}
              <IconCaret aria-hidden="true" />
            </button>
            <span class="only-wide">{{ here.number ? here.name : dossier.name }}</span>
          </h1>
          <div class="acts">
            <BDropdown v-if="may('add')" :variant="null" toggle-class="btn-plain" no-caret>
              <template #button-content>
                <IconUpload aria-hidden="true" />
                {{ t('dossier.add') }}
              </template>
              <BDropdownItemButton @click="fileField?.click()">{{ t('dossier.addFiles') }}</BDropdownItemButton>
              <BDropdownItemButton @click="folderField?.click()">{{ t('dossier.addFolder') }}</BDropdownItemButton>
              <BDropdownItemButton @click="naming = true">{{ t('dossier.newFolder') }}</BDropdownItemButton>
            </BDropdown>
            <button v-if="may('share')" type="button" class="btn btn-primary" :disabled="!!giving" @click="giveOut()">
              <IconPlane aria-hidden="true" />
              {{ t('dossier.giveOut') }}
            </button>
            <input
              ref="fileField"
              type="file"
              multiple
              class="visually-hidden"
              tabindex="-1"
              :aria-label="t('dossier.addFiles')"
              @change="bring"
            />
            <input
              ref="folderField"
              type="file"
              webkitdirectory
              class="visually-hidden"
              tabindex="-1"
              :aria-label="t('dossier.addFolder')"
              @change="bring"
            />
          </div>
        </div>
        <p class="terms">
          <button type="button" class="reach-word" :aria-expanded="reaching" :disabled="here.through || !!as" @click="toggleReach">
            {{ reachWords }}
          </button>
          {{ ' ' }}
          <b v-if="here.closed">{{ t('access.closedHere') }}</b>
          {{ ' ' }}
          <template v-if="!here.links && page?.linked">
            <b>{{ t('dossier.linked', { n: said.count(page.linked).toLowerCase() }) }}</b>
          </template>
        </p>
        <NewFolder v-if="naming" :parent="here.id" @made="folderMade" @discard="naming = false" />
      </div>
      <Register
        :code="code"
        :folder="here.id"
        :shown="shown"
        :chosen="chosen"
        :slim="!!shown || chosen.length > 0"
        :may-add="may('add')"
        :may-share="may('share')"
        :may-move="may('deleteOwn')"
        :as="as"
        :compare="comparing"
        @give-out="giveOut"
        @move="moveRows"
        @show="show"
        @choose="chosen = $event"
        @page="page = $event"
        @row="tab = $event"
        @add="fileField?.click()"
        @open="looking = $event"
      >
        <template v-if="chosen.length" #chosen>
          <span class="chosen">{{ t('dossier.chosen', { what: chosenWhat, size: said.size(chosenBytes) }) }}</span>
          <a class="only-wide" :href="archive" download>{{ t('dossier.take') }}</a>
          <button v-if="may('deleteOwn')" type="button" @click="moveRows(chosen)">{{ t('move.menu') }}</button>
          <button type="button" @click="chosen = []">{{ t('dossier.unchoose') }}</button>
        </template>
      </Register>
      <div class="foot">
        <span>{{ t('dossier.foot', { n: page?.total ?? 0, size: said.size(page?.bytes ?? 0) }, page?.total ?? 0) }}</span>
        <span v-if="below > 0 && here.number">{{ t('dossier.moreBelow', { n: below }) }}</span>
      </div>
      <div v-if="over > 0 && may('add')" class="droptarget">
        {{ t('dossier.drop', { folder: here.number ? `${here.number} ${here.name}` : dossier.name }) }}
      </div>
    </main>
    <Missing v-else :item="folder ?? lastHere" />
    <SlipOfMany v-if="chosen.length > 1" :rows="chosen" :archive="archive" />
    <Slip
      v-else-if="chosen[0]?.id ?? shown"
      :id="(chosen[0]?.id ?? shown)!"
      :key="chosen[0]?.id ?? shown"
      @close="chosen.length ? (chosen = []) : show()"
      @give-out="giveOut([$event])"
      @look="looking = $event"
    />
    <i
      v-if="tab !== undefined && shown && chosen.length < 2 && !giving && !narrow"
      class="row-tab"
      aria-hidden="true"
      :style="{ top: `${tab}px` }"
    ></i>
    <FolderSlip
      v-else-if="reaching && here"
      :key="here.id"
      :folder="here"
      :dossier="dossier"
      @close="toggleReach"
      @give="giving = { items: [here.id], people: true }"
    />
    <Give
      v-if="giving"
      :key="giving.items.join()"
      :items="giving.items"
      :people="giving.people"
      :folder="!!givesFolder"
      :manager="may('manage')"
      @close="giving = null"
    />
    <MoveSheet v-if="moving" :key="moving.items.join()" v-bind="moving" :from="code" :here="here?.id" @close="doneMoving" />
    <ViewSheet v-if="looking" :document="looking" @close="looking = null" />
  </div>
  <main v-else id="content" class="plain">
    <p class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>

<style scoped>
.no-slip {
  grid-template-columns: 216px minmax(0, 1fr);
}
.where {
  font: inherit;
  display: inline-flex;
  align-items: center;
  gap: 8px;
}
.middle {
  position: relative;
}
.as {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 6px 20px;
  background: var(--tb-selection);
  border-bottom: 1px dashed var(--tb-action);
  font-weight: 560;
}
.reach-word {
  font: inherit;
  color: inherit;
  text-align: left;
  text-decoration: underline;
  text-decoration-color: var(--tb-rule);
  text-underline-offset: 4px;
}
.reach-word:hover {
  text-decoration-color: var(--tb-action);
}
.row-tab {
  position: absolute;
  right: 351px;
  width: 9px;
  height: 39px;
  background: var(--tb-selection);
  border: 1px solid var(--tb-action);
  border-left: 0;
  border-radius: 0 3px 3px 0;
}
.chosen {
  color: var(--tb-ink);
  font-weight: 560;
}
</style>
