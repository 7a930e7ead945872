<script setup lang="ts">
import { useDirectory } from '../../queries/people'
import { useDossier, type RegisterOnly } from '../../queries/dossiers'
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { BOffcanvas } from 'bootstrap-vue-next'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import Missing from '../../app/Missing.vue'
import Failed from '../../app/Failed.vue'
import AskSheet from '../decisions/AskSheet.vue'
import AsSeen from './AsSeen.vue'
import BringingTold from './BringingTold.vue'
import { isCommand, isTyping } from '../../parts/keys'
import { useThing } from '../../app/title'
import { useBringingIn } from './bringing'
import { useCheckout } from '../checkout/acts'
import Contents from './Contents.vue'
import DroppedOnRow from './DroppedOnRow.vue'
import DossierHeading from './DossierHeading.vue'
import Deleted from '../deletion/Deleted.vue'
import DeleteSheet from '../deletion/DeleteSheet.vue'
import FolderSlip from '../sharing/FolderSlip.vue'
import Give from '../sharing/Give.vue'
import MakeFrom from '../templates/MakeFrom.vue'
import Overview from './Overview.vue'
import MoveSheet from '../sharing/MoveSheet.vue'
import { useMoving } from './moving'
import { usePlacing } from './placing'
import Register from './Register.vue'
import RowMenu from './RowMenu.vue'
import Slip from './Slip.vue'
import SlipOfMany from './SlipOfMany.vue'
import { archiveOf, useThingMenu } from './thingacts'
import { mostAtOnce, movable, namedOf, thingOfDocument, type Thing } from './things'
import ViewSheet from './ViewSheet.vue'

/** A dossier: contents at the left, the folder's register in the middle, the chosen document's slip at the right. */
const props = defineProps<{ code: string; folder?: string }>()
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const router = useRouter()
const narrow = useMediaQuery('(max-width: 900px)')

/** Looked at as another member would see it: nothing can be changed then. */
const as = computed(() => (typeof route.query.as === 'string' ? route.query.as : undefined))
const comparing = ref(false)
watch(as, () => (comparing.value = false))
const { data: people } = useDirectory(() => !!as.value)
const asName = computed(() => people.value?.accounts.find((a) => a.person.id === as.value)?.person.name ?? '…')
const { data: dossier, error, refetch } = useDossier(() => props.code, as, comparing)
const firstFolder = computed(() => dossier.value?.folders.find((f) => f.number && f.documents > 0) ?? dossier.value?.folders[0])
/** It opens on the whole, for whoever may see that; whoever came in by a branch begins at its first folder. */
const whole = computed(() => dossier.value?.folders.find((f) => !f.number && !f.through))
const here = computed(
  () => dossier.value?.folders.find((f) => f.id === props.folder) ?? (props.folder ? undefined : (whole.value ?? firstFolder.value)),
)
const within = computed(() => dossier.value?.folders.filter((f) => f.parentId === here.value?.id && f.id !== here.value?.id) ?? [])
const may = (cap: string) => !as.value && (here.value?.may.includes(cap) ?? false)

useThing(() =>
  [here.value?.number && here.value.name, dossier.value && `${dossier.value.code} ${dossier.value.name}`].filter(Boolean).join(', '),
)

/** The place of what was deleted from this dossier. */
const showsDeleted = computed(() => props.folder === 'deleted')
/** Where one was before it was taken away: that is what one may ask for. */
const lastHere = ref<string>()
watch(
  () => here.value?.id,
  (id) => id && (lastHere.value = id),
  { immediate: true },
)
const shown = computed(() => (typeof route.query.document === 'string' ? route.query.document : undefined))
const reaching = computed(() => route.query.reach === '1' && !shown.value && !chosen.value.length)
const chosen = ref<Thing[]>([])
/** At the top, while nothing is chosen, one sees what there is to know of the whole. */
const overview = computed(
  () => !!here.value && here.value.id === whole.value?.id && !shown.value && !chosen.value.length && !reaching.value && !as.value,
)
const page = ref<Schemas['RegisterPage']>()
const giving = ref<{ items: string[]; people?: boolean; asks?: boolean } | null>(null)
const looking = ref<Schemas['Document'] | null>(null)
/** Which version of it, where it is not the one that counts. */
const lookingAt = ref<number>()
/** About which documents a decision is being asked for. */
const asking = ref<string[] | null>(null)
/** What is about to be deleted. */
const deleting = ref<Thing[] | null>(null)
/** The dossier as a whole is about to be deleted. */
const removing = ref(false)
/** A document is being made from another one. */
const making = ref<{ template?: { id: string; name: string } }>()
const contentsOpen = ref(false)
/** Where the chosen row stands, so that it reaches into the slip like an index card's tab. */
const tab = ref<number>()

watch(
  () => here.value?.id,
  () => {
    chosen.value = []
    giving.value = null
    asking.value = null
    moving.value = null
    deleting.value = null
    naming.value = undefined
    contentsOpen.value = false
    making.value = undefined
  },
)

/** What the register is narrowed down to stands in the address. */
const only = computed<RegisterOnly>(() => {
  const word = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : undefined)
  return {
    kind: word('kind') as RegisterOnly['kind'],
    person: word('person'),
    tag: word('tag'),
    linked: word('linked') === '1' || undefined,
    where: word('where'),
    value: word('where') && (word('value') ?? ''),
  }
})
const narrowed = computed(() => Object.values(only.value).some((v) => v !== undefined))
const address = (query: Record<string, string | undefined>) => ({ path: `/dossiers/${props.code}/${here.value?.id}`, query })
const narrowing = (o: RegisterOnly) => ({ ...o, linked: o.linked ? '1' : undefined })

function show(id?: string) {
  void router.replace(address({ ...narrowing(only.value), document: id, as: as.value }))
}

/** What is given out: the chosen documents, the one that is shown, or the folder. */
function giveOut(items?: string[], people = false) {
  const what = items ?? (chosen.value.length ? chosen.value.map((c) => c.id) : [shown.value ?? here.value?.id ?? ''])
  giving.value = { items: what, people }
}

const { moving, moveThings, movedOnto, movedTo, doneMoving, carries } = useMoving(
  dossier,
  chosen,
  () => here.value?.id,
  () => (giving.value = null),
)
const bringing = useBringingIn(() => (may('add') ? here.value : undefined))
const { asked: bringingAsked, onRow, overRow } = bringing
function toggleReach() {
  void router.replace({ path: `/dossiers/${props.code}/${here.value?.id}`, query: reaching.value ? {} : { reach: '1' } })
}
/** Decisions are asked about documents that one may change, so many at once. */
const askable = (things: Thing[]) =>
  !as.value && things.length > 0 && things.length <= 100 && things.every((o) => o.kind === 'document' && o.may.includes('change'))
const asks = computed(() => {
  if (as.value || !may('change')) return undefined
  const about = chosen.value.length ? chosen.value : shown.value ? [register.value?.thing(shown.value)?.[0]] : []
  return about.length && about.every((o) => o && askable([o])) ? 'now' : 'choose'
})
function askApproval(items?: string[]) {
  giving.value = null
  asking.value = items ?? (chosen.value.length ? ids(chosen.value) : [shown.value!])
}
/** Folders into which something can be moved once it is decided on. */
const goals = computed(() => dossier.value?.folders.filter((f) => f.number && f.may.includes('add') && f.id !== here.value?.id) ?? [])
const givesFolder = computed(() => giving.value?.items.length === 1 && giving.value.items[0] === here.value?.id)
const every = (cap: string) => chosen.value.every((c) => c.may.includes(cap))
const archive = computed(() =>
  chosen.value.length && chosen.value.length <= mostAtOnce && every('download') ? archiveOf(chosen.value) : undefined,
)
const leave = (thing: Thing) => (chosen.value = chosen.value.filter((c) => c.id !== thing.id))

const register = ref<InstanceType<typeof Register>>()
/** From one to the next, which is the chosen one from then on. */
async function lookOn(id: string) {
  await look(id)
  show(id)
}
/** Where one begins to read: at a page, with words that were looked for. */
const startAt = computed(() => ({
  page: Number(route.query.page) || 1,
  words: typeof route.query.q === 'string' ? route.query.q : undefined,
}))
watch(
  () => [shown.value, route.query.look] as const,
  async ([id, wanted]) => {
    if (!id || wanted !== '1') return
    await look(id)
    lookingAt.value = Number(route.query.version) || undefined
  },
  { immediate: true },
)
/** What one was led to by an address is not opened again by it. */
function lookedAt() {
  looking.value = null
  if (route.query.look) show(shown.value)
}
async function look(id: string) {
  lookingAt.value = undefined
  looking.value = await data(api.GET('/documents/{id}', { params: { path: { id } } }))
}
function lookAt(document: Schemas['Document'], version?: number) {
  lookingAt.value = version
  looking.value = document
}
const { take } = useCheckout()
const { mayPlace, shift } = usePlacing(
  () => dossier.value,
  () => !as.value,
)
const ids = (things: Thing[]) => things.map((o) => o.id)
/** An act that one was led to by an address: what the finder was told to do with a document. */
const acts: Record<string, (o: Thing) => void> = {
  giveOut: (o) => o.may.includes('share') && giveOut([o.id]),
  letIn: (o) => o.may.includes('share') && giveOut([o.id], true),
  move: (o) => movable(o) && moveThings([o]),
  copy: (o) => o.may.includes('download') && moveThings([o], true),
  checkOut: (o) => o.may.includes('change') && !o.held && void take([o.id], o.name),
  remove: (o) => movable(o) && (deleting.value = [o]),
  approval: (o) => askable([o]) && askApproval([o.id]),
  make: (o) => o.may.includes('download') && may('add') && (making.value = { template: { id: o.id, name: o.name } }),
}
watch(
  () => [shown.value, route.query.act, here.value?.id] as const,
  async ([id, act, folder]) => {
    if (!id || typeof act !== 'string' || !folder) return
    const thing = thingOfDocument(await data(api.GET('/documents/{id}', { params: { path: { id } } })))
    show(id)
    acts[act]?.(thing)
  },
  { immediate: true },
)
/** What is being renamed, and whether in the contents at the left or where it lies. */
const naming = ref<{ id: string; contents: boolean }>()
const { menu, show: showMenu } = useThingMenu(chosen, {
  open: (o) => void (o.kind === 'folder' ? router.push(`/dossiers/${props.code}/${o.id}`) : look(o.id)),
  giveOut,
  send: (all) => void router.push({ path: '/outward/send', query: { item: all } }),
  move: moveThings,
  remove: (things) => (deleting.value = things),
  ask: (things) => askApproval(ids(things)),
  makeFrom: () => (may('add') ? (o) => (making.value = { template: { id: o.id, name: o.name } }) : undefined),
  checkOut: (things) => void take(ids(things), things.length === 1 ? things[0]!.name : t('move.things', { n: things.length })),
  rename: (o, contents) => {
    naming.value = { id: o.id, contents }
    if (o.kind === 'document') show(o.id)
  },
  shift: (o) => {
    const folder = dossier.value?.folders.find((f) => f.id === o.id)
    return folder && mayPlace(folder) ? (by) => void shift(folder, by) : undefined
  },
  toggle: (o) => (chosen.value.some((c) => c.id === o.id) ? leave(o) : chosen.value.push(o)),
})
/** What is deleted is shown no longer, nor is the folder in which one was. */
function deleted(ids: string[]) {
  deleting.value = null
  chosen.value = chosen.value.filter((c) => !ids.includes(c.id))
  const gone = dossier.value?.folders.find((f) => ids.includes(f.id))
  if (gone && here.value && (gone.id === here.value.id || here.value.number.startsWith(`${gone.number}.`)))
    void router.replace(`/dossiers/${props.code}/${gone.parentId ?? ''}`)
  else if (shown.value && ids.includes(shown.value)) show()
}
const chosenBytes = computed(() => chosen.value.reduce((sum, c) => sum + c.size, 0))
const chosenWhat = computed(() => {
  const numbers = chosen.value.map((c) => c.no)
  return numbers.length > 5 ? t('move.things', { n: numbers.length }) : numbers.join(', ')
})
/** How many things stand in the register, of which those in sight are read. */
const standing = computed(() => (page.value?.total ?? 0) + (narrowed.value ? 0 : within.value.length))
const below = computed(() => (here.value?.documents ?? 0) - (page.value?.total ?? 0))

/** What a key is about: what is chosen, or else what is shown. */
const meant = computed(() => (chosen.value.length || !shown.value ? chosen.value : (register.value?.thing(shown.value) ?? [])))
useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  if (!isTyping(e, 'input:not([type=checkbox])') && !looking.value && !as.value && carries(e, meant.value, may('add'))) return
  if (isTyping(e, 'input:not([type=checkbox])') || looking.value) return
  if (e.key === 'a' && (e.ctrlKey || e.metaKey) && !e.shiftKey && !giving.value && !as.value && register.value) {
    e.preventDefault()
    void register.value.chooseAll()
  }
  if (isCommand(e)) return
  if ((e.key === 'g' || e.key === 'p') && !giving.value && may('share')) {
    e.preventDefault()
    giveOut(undefined, e.key === 'p')
  } else if (e.key === 'Delete' && !giving.value && chosen.value.length && chosen.value.every(movable)) deleting.value = chosen.value
  else if (e.key === 'Escape' && !giving.value && shown.value) show()
})
</script>

<template>
  <Missing v-if="(error as { problem?: { status: number } } | null)?.problem?.status === 404" :item="shown ?? folder ?? lastHere" />
  <main v-else-if="error && !dossier" id="content" class="plain"><Failed :error="error" @again="refetch()" /></main>
  <div
    v-else-if="dossier"
    class="frame"
    :class="{ 'no-slip': (!shown && !chosen.length && !reaching && !(overview && !narrow)) || showsDeleted }"
    v-on="bringing.drops"
  >
    <Contents
      v-if="!narrow"
      :dossier="dossier"
      :here="here?.id"
      :arrange="!as"
      :naming="naming?.contents ? naming.id : undefined"
      @menu="(thing, x, y) => showMenu(thing, x, y, true)"
      @named="naming = undefined"
      @onto="movedOnto"
    />
    <BOffcanvas v-else v-model="contentsOpen" placement="bottom" :title="`${dossier.code} ${dossier.name}`">
      <Contents :dossier="dossier" :here="here?.id" bare />
    </BOffcanvas>
    <Deleted v-if="showsDeleted" :key="code" :code="dossier.code" />
    <main v-else-if="here" id="content" class="middle">
      <RowMenu v-if="menu" :key="`${menu.x} ${menu.y}`" :x="menu.x" :y="menu.y" :acts="menu.entries" @close="menu = null" />
      <AsSeen v-if="as" v-model:comparing="comparing" :name="asName" :code="code" />
      <DossierHeading
        :dossier="dossier"
        :here="here"
        :page="narrowed ? undefined : page"
        :reaching="reaching"
        :giving="!!giving"
        :may-add="may('add')"
        :may-share="may('share')"
        :as="!!as"
        :asks="asks"
        @approval="askApproval()"
        @contents="contentsOpen = true"
        @bring="bringing.bring"
        @give-out="giveOut()"
        @ask="giving = { items: [here.id], asks: true }"
        @from="making = {}"
        @reach="toggleReach"
      />
      <MakeFrom
        v-if="making && may('add')"
        :key="making.template?.id"
        :folder="here.id"
        :dossier="code"
        :template="making.template"
        @discard="making = undefined"
        @made="(id) => ((making = undefined), show(id))"
      />
      <BringingTold
        v-if="bringingAsked"
        :folder="bringingAsked.folder"
        :files="bringingAsked.files.length"
        @bring="bringing.told"
        @discard="bringingAsked = undefined"
      />
      <DroppedOnRow
        v-if="onRow"
        :key="onRow.id"
        :dropped="onRow"
        :may-add="may('add')"
        @close="onRow = undefined"
        @apart="bringing.apart"
      />
      <Register
        ref="register"
        :code="code"
        :folder="here.id"
        :shown="shown"
        :chosen="chosen"
        :slim="!!shown || chosen.length > 0"
        :may-add="may('add')"
        :may-move="may('deleteOwn')"
        :naming="naming && !naming.contents ? naming.id : undefined"
        :only="only"
        :kept="here.arrangement"
        :as="as"
        :compare="comparing"
        :folders="within"
        :all="dossier.folders"
        @menu="showMenu"
        @named="naming = undefined"
        @show="show"
        @choose="chosen = $event"
        @page="page = $event"
        @row="tab = $event"
        @only="router.replace(address(narrowing($event)))"
        @add="bringing.choose()"
        @open="look"
      >
        <template v-if="chosen.length" #chosen>
          <span class="chosen">{{ t('dossier.chosen', { what: chosenWhat, size: said.size(chosenBytes) }) }}</span>
          <button v-if="askable(chosen)" type="button" @click="askApproval()">{{ t('decisions.ask.verb') }}</button>
          <button v-if="chosen.every(movable)" type="button" @click="moveThings(chosen)">{{ t('move.menu') }}</button>
          <button v-if="every('download')" type="button" @click="moveThings(chosen, true)">{{ t('copy.menu') }}</button>
          <button v-if="chosen.every(movable)" type="button" @click="deleting = chosen">{{ t('deletion.menu') }}</button>
          <button v-if="chosen.length < standing" type="button" @click="register?.chooseAll()">
            {{ t('dossier.chooseAll', { n: standing }) }}
          </button>
          <button type="button" @click="chosen = []">{{ t('dossier.unchoose') }}</button>
        </template>
      </Register>
      <div class="foot">
        <span>{{ t('dossier.foot', { n: page?.total ?? 0, size: said.size(page?.bytes ?? 0) }, page?.total ?? 0) }}</span>
        <span v-if="below > 0 && here.number && !narrowed">{{ t('dossier.moreBelow', { n: below }) }}</span>
      </div>
      <Overview
        v-if="overview && narrow"
        :dossier="dossier"
        :let-in="may('share')"
        @let-in="giving = { items: [dossier.id], people: true }"
        @remove="removing = true"
      />
      <div v-if="bringing.over.value" class="droptarget">
        {{
          overRow
            ? t('dossier.dropOnRow', { ref: overRow })
            : t('dossier.drop', { folder: here.number ? `${here.number} ${here.name}` : dossier.name })
        }}
      </div>
    </main>
    <Missing v-else :item="folder ?? lastHere" />
    <SlipOfMany
      v-if="chosen.length > 1 || chosen[0]?.kind === 'folder'"
      :things="chosen"
      :archive="archive"
      :may-share="every('share')"
      :may-move="chosen.every(movable)"
      :may-copy="every('download')"
      :may-ask="askable(chosen)"
      @ask="askApproval()"
      @give-out="giveOut()"
      @let-in="giveOut(undefined, true)"
      @send="router.push({ path: '/outward/send', query: { item: ids(chosen) } })"
      @move="moveThings(chosen)"
      @copy="moveThings(chosen, true)"
      @remove="deleting = chosen"
      @leave="leave"
    />
    <Slip
      v-else-if="chosen[0]?.id ?? shown"
      :id="(chosen[0]?.id ?? shown)!"
      :key="chosen[0]?.id ?? shown"
      :naming="naming?.id === (chosen[0]?.id ?? shown)"
      @close="chosen.length ? (chosen = []) : show()"
      @give-out="giveOut([$event])"
      @ask="askApproval([$event])"
      @look="lookAt"
      @deleted="deleted"
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
    <Overview
      v-if="overview && !narrow"
      :key="dossier.id"
      :dossier="dossier"
      :let-in="may('share')"
      @let-in="giving = { items: [dossier.id], people: true }"
      @remove="removing = true"
    />
    <Give
      v-if="giving"
      :key="giving.items.join()"
      :items="giving.items"
      :people="giving.people"
      :asks="giving.asks"
      :folder="!!givesFolder"
      :manager="may('manage')"
      @close="giving = null"
    />
    <AskSheet
      v-if="asking"
      :key="asking.join()"
      :items="asking"
      :what="asking.length === 1 ? (register?.thing(asking[0]!)?.[0]?.no ?? '') : ''"
      :folder="here?.id"
      :folders="goals"
      @close="asking = null"
    />
    <MoveSheet v-if="moving" :key="moving.items.join()" v-bind="moving" :from="code" :here="here?.id" @onto="movedTo" @close="doneMoving" />
    <DeleteSheet
      v-if="deleting"
      :key="ids(deleting).join()"
      :items="ids(deleting)"
      :what="deleting.length === 1 ? namedOf(deleting[0]!) : t('move.things', { n: deleting.length })"
      :share="deleting.every((o) => o.may.includes('share'))"
      @close="deleting = null"
      @done="deleted(ids(deleting))"
    />
    <DeleteSheet
      v-if="removing"
      :items="[dossier.id]"
      :what="`${dossier.code} ${dossier.name}`"
      :share="may('share')"
      @close="removing = false"
      @done="router.push('/dossiers')"
    />
    <ViewSheet
      v-if="looking"
      :document="looking"
      :version="lookingAt"
      :start="route.query.look ? startAt : undefined"
      v-bind="register?.beside(looking.id)"
      @open="lookOn"
      @close="lookedAt"
    />
  </div>
  <main v-else id="content" class="plain">
    <p class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>

<style scoped>
.no-slip {
  grid-template-columns: var(--tb-contents, 216px) minmax(0, 1fr);
}
.middle {
  position: relative;
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
