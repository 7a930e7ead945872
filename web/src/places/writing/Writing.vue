<script setup lang="ts">
import { watchDebounced } from '@vueuse/core'
import { undo } from 'prosemirror-history'
import { computed, onMounted, ref, useTemplateRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import { tell } from '../../app/toasts'
import { useRemarks } from '../../queries/remarks'
import { useSaid } from '../../sentences/said'
import { usePlaceWords } from '../remarks/acts'
import Remarks from '../remarks/Remarks.vue'
import FieldBar from './FieldBar.vue'
import Growing from './Growing.vue'
import KeptParts from './KeptParts.vue'
import { useCall } from '../../parts/writing/call'
import CallStrip from '../../parts/writing/CallStrip.vue'
import CallVerb from '../../parts/writing/CallVerb.vue'
import Door from '../../parts/Door.vue'
import LookBar from '../../parts/writing/LookBar.vue'
import Lost from '../../parts/writing/Lost.vue'
import Margin from '../../parts/writing/Margin.vue'
import Outline from './Outline.vue'
import PensHere from '../../parts/writing/PensHere.vue'
import { word } from '../../parts/writing/kinds'
import { pensBeside, type Pen } from '../../parts/writing/pens'
import { putPicture } from '../../parts/writing/pictures'
import { useRoom } from '../../parts/writing/room'
import Seek from './Seek.vue'
import { useSitting } from './sitting'
import { useText } from '../../parts/writing/text'
import { waysTo } from '../../parts/writing/ways'
import { useVoiceHere } from './voice'
import WrittenTop from './WrittenTop.vue'

/** A document is written, by several at once: who is here, the text, what is proposed beside it, and how words look. */
const props = defineProps<{ document: string }>()
const { t } = useI18n()
const said = useSaid()
const paper = useTemplateRef<HTMLElement>('paper')
const route = useRoute()
const supersedes = route.query.supersede === 'approved'
const voice = useVoiceHere()
const text = useText(waysTo(props.document, supersedes ? { Supersede: 'approved' } : {}), useSession().session?.person.id ?? '', {
  onlyText: () => tell(t('writing.onlyText')),
  checked: (done) => t(done ? 'writing.taskDone' : 'writing.taskOpen'),
  becameTable: () => location.replace(`/table/${props.document}`),
  keeps: (kind) => t(`writing.kept.is.${kind}`),
  brings: (file) =>
    putPicture(`/api/documents/${props.document}/writing/pictures`, file, isWord.value).catch(
      (e: unknown) => (tell(said.problem(e)), undefined),
    ),
})
const { doc, place, title, newest, state, caution, asksToSupersede, heard, nameOf } = useSitting(props.document, text)
const call = useCall(text)
onMounted(() => void text.open(paper.value!))
/** A document that programs write as well: how it looks, and what they put into it, stays as it is. */
const isWord = computed(() => text.opening.value?.mediaType === word)
watch(
  () => text.proposals.value.length,
  (n, before) => {
    if (n > before && text.mode.value === 'write') heard.value = t('writing.toDecide', { n: said.count(n) }, n)
  },
)

const seeks = ref(false)
const {
  places,
  following,
  picked,
  current,
  decide,
  byKey: roomByKey,
} = useRoom(text, voice.t, (n, accepted) => {
  const view = text.view()!
  tell(t(accepted ? 'writing.accepted' : 'writing.rejected', { n: said.count(n) }, n), {
    label: t('common.undo'),
    do: () => undo(view.state, view.dispatch),
  })
})
function byKey(e: KeyboardEvent) {
  if ((e.ctrlKey || e.metaKey) && !e.altKey && !e.shiftKey && e.key.toLowerCase() === 'f' && text.view()) {
    e.preventDefault()
    seeks.value = true
    return
  }
  roomByKey(e)
}

/** What is said beside the text; of the words that are chosen, where some are. */
const talking = ref(false)
const placeWords = usePlaceWords()
const passage = computed(() => {
  const state = text.look.value
  if (!talking.value || !state || state.selection.empty) return undefined
  const words = state.doc.textBetween(state.selection.from, state.selection.to, ' ').trim()
  return words && words.length <= 2000 ? { kind: 'passage' as const, words } : undefined
})

/** Who wrote what: each part on its writer's line. */
const showing = ref<{ pen: Pen; here: boolean }[]>([])
async function showWriters() {
  if (showing.value.length) {
    showing.value = []
    text.showParts([])
    return
  }
  await act(async () => {
    const w = await data(api.GET('/documents/{id}/writing/authors', { params: { path: { id: props.document } } }))
    const pens = pensBeside(text.pens.value, w.authors)
    const penOf = new Map(pens.map((p) => [p.person, p]))
    showing.value = w.authors.map((a) => ({ pen: penOf.get(a.id)!, here: text.pens.value.some((p) => p.person === a.id) }))
    text.showParts(
      w.parts.map((p) => ({
        from: p.from,
        to: p.to,
        pen: penOf.get(p.by)!,
        words: t('writing.wrote', { name: penOf.get(p.by)!.name, when: said.when(p.at) }),
      })),
    )
    if (!w.parts.length) tell(t('writing.nobodyWrote'))
  })
}

/** The threads about words of the text, marked where those stand now. */
const { data: remarked } = useRemarks(() => props.document, ref('open'))
const threads = computed(() =>
  (remarked.value?.pages ?? []).flatMap((p) =>
    p.threads.flatMap((th) =>
      th.place?.kind === 'passage' && th.place.words ? [{ id: th.id, words: th.place.words, mine: th.remarks[0]?.mine }] : [],
    ),
  ),
)
const numbers = ref(new Map<string, number>())
const thread = ref<string>()
const size = computed(() => text.look.value?.doc.content.size ?? 0)
watchDebounced(
  [threads, size],
  () => {
    numbers.value = text.showPassages(threads.value)
    // What I said holds on to its words from now on, whatever becomes of them.
    for (const th of threads.value) if (th.mine) text.holdOn(th.id)
  },
  { debounce: 300, maxWait: 2000 },
)
function openThread(e: MouseEvent) {
  const id = (e.target as HTMLElement).closest<HTMLElement>('[data-thread]')?.dataset.thread
  if (!id) return
  thread.value = id
  talking.value = true
}

const { act } = useAct()
function kept(k: Schemas['WritingKept']) {
  text.kept.value = k
  text.view()?.focus()
}
</script>

<template>
  <main id="content" class="written-page" :class="{ margin: text.proposals.value.length > 0, talks: talking }" @keydown="byKey">
    <Failed v-if="text.failed.value" :error="text.failed.value" @again="paper && text.open(paper)" />
    <WrittenTop
      :document="document"
      :place="place"
      :title="title"
      :state="state"
      :caution="caution"
      :supersede="asksToSupersede"
      :writes="text.mode.value === 'write'"
      :typeset="!isWord"
      @kept="kept"
    >
      <button
        v-if="place"
        type="button"
        class="btn btn-plain btn-small"
        :aria-expanded="talking"
        aria-controls="talk-beside"
        @mousedown.prevent
        @click="talking = !talking"
      >
        {{ t('writing.talk') }}
      </button>
    </WrittenTop>
    <section v-show="place" class="here" :aria-label="t('writing.whoIsHere')">
      <PensHere v-model:following="following" :pens="text.pens.value" :me="text.me" :places="places">
        <template #guest><Door state="ajar" :count="1" /></template>
      </PensHere>
      <ul v-if="showing.some((s) => !s.here)" class="absent small">
        <li v-for="s in showing.filter((x) => !x.here)" :key="s.pen.person">
          <span :class="`pen-${s.pen.line}`">{{ s.pen.name }}</span>
        </li>
      </ul>
      <CallVerb class="call-verb" :call="call" />
      <button type="button" class="btn btn-text btn-small seek-verb" :aria-pressed="seeks" title="Ctrl F" @click="seeks = !seeks">
        {{ t('writing.seek.verb') }}
      </button>
      <button type="button" class="btn btn-text btn-small who-wrote" :aria-pressed="showing.length > 0" @click="showWriters">
        {{ t('writing.whoWrote') }}
      </button>
      <Growing v-if="doc" :document="doc" :newest="newest" :grows="text.mode.value !== 'look' && text.mode.value !== 'remark'" />
    </section>
    <CallStrip :call="call" :list="said.list" />
    <KeptParts
      v-if="isWord && place && text.look.value && ['write', 'propose'].includes(text.mode.value)"
      :doc="text.look.value.doc"
      :reference="place.ref"
      :changes="text.changes.value"
    />
    <Seek
      v-if="seeks && text.view()"
      :view="text.view()!"
      :changes="text.changes.value"
      :writes="text.mode.value === 'write' || text.mode.value === 'propose'"
      @close="seeks = false"
    />
    <Lost v-model="text.lost.value" />
    <div class="desk">
      <aside v-if="talking" id="talk-beside" class="talk-beside" :aria-label="t('writing.talk')">
        <Remarks :item="document" :place="passage" :version="passage && newest" :numbers="numbers" :picked="thread" @pick="thread = $event">
          <p v-if="passage" class="small">{{ placeWords(passage) }}</p>
        </Remarks>
      </aside>
      <Outline v-if="!talking && text.view() && text.look.value" :view="text.view()!" :changes="text.changes.value" />
      <div class="sheet-room">
        <p v-if="!place && !text.failed.value" class="quiet">{{ t('common.loading') }}</p>
        <article v-show="place" ref="paper" class="leaf" @click="openThread"></article>
      </div>
      <Margin
        v-if="text.proposals.value.length"
        :proposals="text.proposals.value"
        :current="current?.id"
        :decides="text.mode.value === 'write'"
        :name-of="nameOf"
        :pens="text.pens.value"
        :me="text.me"
        :view="text.view()"
        :changes="text.changes.value"
        @decide="decide"
        @pick="picked = $event"
      />
    </div>
    <LookBar
      v-if="text.look.value && text.mode.value === 'write' && text.stands.value !== 'ended'"
      :view="text.view()!"
      :state="text.look.value"
      :plain="isWord"
      pictures
      @picture="text.bring($event)"
    >
      <template #field="{ at, node }">
        <FieldBar :key="at" :view="text.view()!" :at="at" :node="node" />
      </template>
    </LookBar>
    <p class="visually-hidden" aria-live="polite">{{ heard }}</p>
  </main>
</template>

<style scoped>
.written-page {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto auto auto auto auto minmax(0, 1fr) auto;
  height: calc(100dvh - 52px);
}
.here {
  grid-row: 2;
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: var(--tb-s4);
  background: var(--tb-sheet);
  border-top: 1px solid var(--tb-line);
  border-bottom: 1px solid var(--tb-rule);
  padding: 8px 24px;
  min-height: 56px;
}
.absent {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 20px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.seek-verb,
.call-verb {
  margin-left: auto;
}
.call-verb + .seek-verb {
  margin-left: 0;
}
.who-wrote {
  white-space: nowrap;
}
.who-wrote[aria-pressed='true'] {
  font-weight: 650;
}
.call {
  grid-row: 3;
}
.kept-parts {
  grid-row: 4;
}
.seek {
  grid-row: 5;
}
.lost {
  grid-row: 6;
}
.desk {
  grid-row: 7;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  overflow: auto;
  position: relative;
}
.margin .desk {
  grid-template-columns: minmax(0, 1fr) 320px;
}
@media (min-width: 1151px) {
  .desk:has(> .outline) {
    grid-template-columns: 220px minmax(0, 1fr);
  }
  .margin .desk:has(> .outline) {
    grid-template-columns: 200px minmax(0, 1fr) 300px;
  }
}
.talks .desk {
  grid-template-columns: 300px minmax(0, 1fr);
}
.talks.margin .desk {
  grid-template-columns: 280px minmax(0, 1fr) 300px;
}
.talk-beside {
  position: sticky;
  top: 0;
  height: 100%;
  overflow: auto;
  padding: 12px 20px;
  background: var(--tb-sheet);
  border-right: 1px solid var(--tb-line);
}
@media (max-width: 900px) {
  .written-page {
    height: calc(100dvh - 52px - 56px);
  }
  .here {
    flex-wrap: wrap;
    gap: 0 var(--tb-s4);
    padding: 6px 16px;
    min-height: 0;
  }
  .margin .desk,
  .talks .desk,
  .talks.margin .desk {
    grid-template-columns: minmax(0, 1fr);
  }
  .talk-beside {
    position: static;
    height: auto;
    border-right: 0;
    border-bottom: 1px solid var(--tb-rule);
  }
}
</style>
<style src="../../parts/writing/writing.css"></style>
