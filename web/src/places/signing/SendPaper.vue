<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import IconSign from '~icons/ph/signature'
import { api, data as answer, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { isTyping } from '../../parts/keys'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { boxStyle } from '../../parts/signing/word'
import { useDocument } from '../../queries/documents'
import { useSigningDraft } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import PeopleField, { type Named } from '../sharing/PeopleField.vue'
import Letter from './Letter.vue'
import PlaceWords from './PlaceWords.vue'
import { kinds, usePlacing, type Kind } from './placing'

/** A paper is sent to its parties: who signs in which order, and where, pointed at on its pages. */
const props = defineProps<{ document: string }>()
const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const { data: doc, error: missing } = useDocument(() => props.document)
const to = ref<Named[]>([])
const rest = ref('')
const terms = reactive({
  days: '14',
  order: 'turn' as 'turn' | 'once',
  known: 'link' as 'link' | 'code' | 'sign-in',
  password: '',
  each: false,
  message: '',
  copies: '',
  paperPassword: '',
})
const pages = computed(() => draft.value?.pages ?? [])
const placing = usePlacing(() => pages.value)
const kind = ref<Kind>('signature')
const party = ref(0)
/** Only people sign: a group has no hand. */
const people = computed(() => to.value.filter((n) => (n.id ? n.kind === 'person' : true)))
const address = (n: Named) => n.email ?? n.address ?? n.name
/** Whoever is outside signs without an account, by a way of their own. */
const inside = (n: Named) => !!n.id && !n.address
const parties = computed<Schemas['SigningParty'][]>(() =>
  people.value.map((n, i) => ({
    role: '',
    turn: terms.order === 'turn' ? i + 1 : 1,
    person: inside(n) ? n.id : undefined,
    name: n.id ? n.name : address(n).split('@')[0]!,
    email: inside(n) ? '' : address(n),
    known: inside(n) ? 'sign-in' : terms.known,
    signs: placing.places.value.some((p) => p.party === i && p.kind === 'signature') || !placing.places.value.some((p) => p.party === i),
    mayHand: false,
  })),
)
const names = reactive(new Map<string, string>())
const wish = computed<Schemas['SigningWish']>(() => ({
  document: props.document,
  plan: {
    parties: parties.value.map((p) => ({ ...p, name: nameOf(p) })),
    places: placing.places.value,
    each: terms.each,
    copies: terms.copies
      .split(/[,;\s]+/)
      .map((c) => c.trim())
      .filter(Boolean),
  },
  days: Number(terms.days),
  message: terms.message || undefined,
  password: terms.password || undefined,
  paperPassword: terms.paperPassword || undefined,
}))
const asked = computed(() => ({ ...wish.value, message: undefined, password: undefined }))
const { data: draft, error } = useSigningDraft(asked)
const locked = computed(() => (error.value as { code?: string } | null)?.code === 'paper-locked')
const problem = computed(() => draft.value?.problems[0])
const says = computed(() => {
  const p = problem.value
  if (!to.value.length) return t('signing.whoFirst')
  if (!p) return draft.value?.refused ? t(`problem.${draft.value.refused}`) : ''
  const [what, n] = p.at.split('/')
  const who = what === 'parties' && n !== undefined ? parties.value[Number(n)] : undefined
  return t(`signing.flaw.${p.flaw}`, { letter: who ? letterOf(Number(n)) : '', n: n ?? '', name: who?.name ?? '' })
})
const letterOf = (i: number) => String.fromCharCode(65 + i)
const ready = computed(() => to.value.length > 0 && !rest.value && !!draft.value && !problem.value && !draft.value.refused)

function put(e: MouseEvent, page: number) {
  if (!to.value.length) return
  const r = (e.currentTarget as HTMLElement).getBoundingClientRect()
  placing.put(page, (e.clientX - r.left) / r.width, (e.clientY - r.top) / r.height, kind.value, Math.min(party.value, to.value.length - 1))
  if (kind.value === 'signature' && party.value < to.value.length - 1 && hasOwn(party.value)) party.value++
}
const hasOwn = (i: number) => placing.places.value.some((p) => p.party === i && p.kind === 'signature')
let dragging: { id: number; x: number; y: number; w: number; h: number; size: boolean } | undefined
function grab(e: PointerEvent, id: number, size = false) {
  const page = (e.currentTarget as HTMLElement).closest('.drawn')!.getBoundingClientRect()
  placing.chosen.value = id
  dragging = { id, x: e.clientX, y: e.clientY, w: page.width, h: page.height, size }
  ;(e.currentTarget as HTMLElement).setPointerCapture(e.pointerId)
}
function drag(e: PointerEvent) {
  const p = dragging && placing.places.value.find((o) => o.id === dragging!.id)
  if (!dragging || !p) return
  const [dx, dy] = [(e.clientX - dragging.x) / dragging.w, (e.clientY - dragging.y) / dragging.h]
  if (dragging.size) placing.resize(p, dx, dy)
  else placing.move(p, dx, dy)
  dragging.x = e.clientX
  dragging.y = e.clientY
}
const drop = () => (dragging = undefined)
/** Arrow keys move what is chosen, with the shift key they make it larger and smaller. */
useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  const p = placing.at.value
  if (!p || isTyping(e)) return
  const step = e.altKey ? 0.001 : 0.005
  const by: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }
  const d = by[e.key]
  if (d) {
    e.preventDefault()
    if (e.shiftKey) placing.resize(p, ...d)
    else placing.move(p, ...d)
  } else if (e.key === 'Delete' || e.key === 'Backspace') {
    e.preventDefault()
    placing.remove(p)
  } else if (e.key === 'Escape') placing.chosen.value = undefined
})
/** The keyboard's way to a new place: in the middle of the page that is before one's eyes. */
function putByKey() {
  if (to.value.length) placing.put(shown.value, 0.5, 0.5, kind.value, Math.min(party.value, to.value.length - 1))
}
const shown = ref(1)
function scrolled(e: Event) {
  const box = e.currentTarget as HTMLElement
  const all = [...box.querySelectorAll<HTMLElement>('[data-page]')]
  const middle = box.getBoundingClientRect().top + box.clientHeight / 2
  shown.value = Number(all.find((el) => el.getBoundingClientRect().bottom > middle)?.dataset.page ?? 1)
}
const { act, busy, wrong } = useAct()
async function send() {
  let line: Schemas['SigningLine'] | undefined
  const done = await act(
    async () => {
      line = await answer(api.POST('/signings', { body: wish.value }))
    },
    { done: t('signing.sent', { who: said.list(parties.value.map((p) => p.name)) }) },
  )
  if (done && line) void router.push(`/signing/${line.id}`)
}
const nameOf = (p: Schemas['SigningParty']) => names.get(p.email) || p.name
</script>

<template>
  <main id="content" class="send">
    <Failed v-if="missing" :error="missing" />
    <template v-else>
      <header class="head">
        <RouterLink v-if="doc" class="go small" :to="`/d/${doc.ref}`">← {{ doc.ref }}</RouterLink>
        <h1>{{ doc?.name.replace(/\.\w+$/, '') }}</h1>
        <div class="sentence">
          <p class="terms lead">{{ t('signing.whoSigns') }}</p>
          <PeopleField v-model="to" v-model:rest="rest" :items="[document]" :hint="t('signing.whoHint')" />
          <p v-if="to.length" class="terms">
            <template v-for="(p, i) in parties" :key="i">
              <Letter :letter="letterOf(i)" />
              {{ ' ' }}{{ nameOf(p) }}{{ i < parties.length - 1 ? (terms.order === 'turn' ? `, ${t('signing.then')} ` : ', ') : ' ' }}
            </template>
            <SentenceSelect
              v-if="to.length > 1"
              v-model="terms.order"
              :label="t('signing.order')"
              :options="(['turn', 'once'] as const).map((value) => ({ value, words: t(`signing.orders.${value}`) }))"
            />
            {{ ' ' }}{{ t('signing.within') }}
            <SentenceSelect
              v-model="terms.days"
              :label="t('signing.until')"
              :options="['3', '7', '14', '30', '60'].map((value) => ({ value, words: t('signing.days', Number(value)) }))"
              then=","
            />
            <SentenceSelect
              v-model="terms.known"
              :label="t('signing.identity')"
              :options="(['link', 'code', 'sign-in'] as const).map((value) => ({ value, words: t(`signing.identities.${value}`) }))"
              then=","
            />
            <SentenceSelect
              v-model="terms.each"
              :label="t('signing.sealing')"
              :options="[false, true].map((value) => ({ value, words: t(`signing.sealings.${value ? 'each' : 'end'}`) }))"
              then="."
            />
          </p>
          <p v-if="people.some((n) => !inside(n))" class="small names">
            <label v-for="n in people.filter((o) => !inside(o))" :key="address(n)">
              {{ t('signing.nameOf', { email: address(n) }) }}
              <input
                class="form-control form-control-sm"
                maxlength="200"
                :value="names.get(address(n)) ?? ''"
                :placeholder="n.id ? n.name : address(n).split('@')[0]"
                @input="names.set(address(n), ($event.target as HTMLInputElement).value)"
              />
            </label>
            <label>
              {{ t('signing.password') }}
              <input v-model="terms.password" class="form-control form-control-sm" minlength="6" maxlength="500" autocomplete="off" />
            </label>
          </p>
        </div>
      </header>
      <div v-if="locked" class="locked">
        <label>
          {{ t('signing.paperPassword') }}
          <input v-model="terms.paperPassword" type="password" class="form-control" autocomplete="off" />
        </label>
      </div>
      <p v-else-if="error && !draft" class="t-caution pad" role="alert">{{ said.problem(error) }}</p>
      <div class="desk" @scroll.capture="scrolled">
        <div class="papers">
          <div
            v-for="(size, i) in pages"
            :key="i"
            class="drawn"
            :data-page="i + 1"
            :style="{ aspectRatio: `${size.width} / ${size.height}` }"
            @click.self="put($event, i + 1)"
          >
            <img
              :src="`/api/documents/${document}/pages/${i + 1}?width=1100&version=${doc?.versions[0]?.number ?? 1}`"
              :alt="t('signing.page', { n: i + 1 })"
              loading="lazy"
            />
            <button
              v-for="p in placing.places.value.filter((o) => o.page === i + 1)"
              :key="p.id"
              type="button"
              class="box"
              :class="[`l${p.party % 4}`, { on: p.id === placing.chosen.value, bad: problem?.at === `places/${p.id}` }]"
              :style="boxStyle(p.box)"
              :data-place="p.id"
              :aria-label="`${letterOf(p.party)}, ${t(`signing.kind.${p.kind}`)}, ${t('signing.page', { n: p.page })}`"
              @click.stop="placing.chosen.value = p.id"
              @focus="placing.chosen.value = p.id"
              @pointerdown="grab($event, p.id)"
              @pointermove="drag"
              @pointerup="drop"
            >
              <b>{{ p.kind === 'fixed' ? '' : letterOf(p.party) }}</b>
              {{ p.kind === 'fixed' ? p.value : t(`signing.kind.${p.kind}`) }}
              <span
                class="grip"
                aria-hidden="true"
                @pointerdown.stop="grab($event, p.id, true)"
                @pointermove.stop="drag"
                @pointerup.stop="drop"
              ></span>
            </button>
          </div>
          <p v-if="!draft && !error" class="quiet">{{ t('common.loading') }}</p>
        </div>
        <aside class="places">
          <p>
            <b>{{ t('signing.places', placing.places.value.length) }}</b>
            {{ t('signing.walked') }}
          </p>
          <ol>
            <li v-for="(p, i) in placing.ordered.value" :key="p.id" :class="{ on: p.id === placing.chosen.value }">
              <button type="button" class="line" @click="placing.chosen.value = p.id">
                <span class="quiet">{{ i + 1 }}</span>
                <Letter v-if="p.kind !== 'fixed'" :letter="letterOf(p.party)" />
                <span>
                  {{ p.label || t(`signing.does.${p.kind}`) }}, {{ t('signing.page', { n: p.page })
                  }}{{ p.must || p.kind === 'signed-on' || p.kind === 'fixed' ? '' : `, ${t('signing.may')}` }}
                </span>
              </button>
              <PlaceWords
                v-if="p.id === placing.chosen.value"
                :place="p"
                :parties="parties.map(nameOf)"
                :pages="pages.length"
                @remove="placing.remove(p)"
                @all="placing.onAll(p)"
                @dated="placing.dated(p)"
              />
            </li>
          </ol>
          <div v-if="to.length" class="another">
            <p class="small quiet">{{ t('signing.another') }}</p>
            <p class="terms">
              <SentenceSelect
                v-model="party"
                :label="t('signing.whose')"
                :options="parties.map((p, i) => ({ value: i, words: nameOf(p) }))"
              />
              {{ ' ' }}
              <SentenceSelect
                v-model="kind"
                :label="t('signing.what')"
                :options="kinds.map((value) => ({ value, words: t(`signing.does.${value}`) }))"
              />
            </p>
            <button type="button" class="btn btn-plain btn-small" data-put @click="putByKey">
              {{ t('signing.putHere', { n: shown }) }}
            </button>
          </div>
          <label class="message">
            <b>{{ t('signing.copies') }}</b>
            <input v-model="terms.copies" class="form-control" maxlength="2000" autocomplete="off" />
          </label>
          <label class="message">
            <b>{{ t('signing.tell') }}</b>
            <textarea v-model="terms.message" class="form-control" rows="3" maxlength="4000"></textarea>
          </label>
        </aside>
      </div>
      <footer class="bar">
        <p role="status" :class="{ 't-caution': says && to.length }">
          {{ wrong || says || t('signing.readySend', { when: draft ? said.when(draft.until) : '' }) }}
        </p>
        <button type="button" class="btn btn-primary" :disabled="!ready || busy" data-send @click="send">
          <IconSign aria-hidden="true" />
          {{ t('signing.send') }}
        </button>
      </footer>
    </template>
  </main>
</template>

<style scoped>
.send {
  display: grid;
  grid-template-rows: auto 1fr auto;
  height: calc(100dvh - 52px);
}
.head {
  padding: 10px 24px;
  border-bottom: 1px solid var(--tb-line);
  background: var(--tb-sheet);
}
h1 {
  font-size: var(--tb-title);
  margin: 0;
}
.lead {
  margin: 0;
}
.sentence .terms {
  margin: var(--tb-s1) 0;
}
.names {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s3);
  margin: 0;
}
.names .form-control {
  display: inline-block;
  width: 11rem;
}
.locked,
.pad {
  padding: 16px 24px;
  max-width: 420px;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 340px;
  min-height: 0;
}
.papers {
  overflow: auto;
  padding: 16px;
  background: var(--tb-selection);
}
.drawn {
  position: relative;
  max-width: 640px;
  margin: 0 auto 16px;
  background: var(--tb-paper);
  box-shadow: 0 1px 4px var(--tb-shade);
  cursor: crosshair;
  container-type: inline-size;
}
.drawn img {
  width: 100%;
  height: 100%;
  display: block;
  pointer-events: none;
}
.box {
  --c: var(--tb-action);
  position: absolute;
  border: 1.5px solid var(--c);
  border-radius: 2px;
  background: color-mix(in srgb, var(--tb-party-a) 12%, transparent);
  color: var(--tb-paper-ink);
  font: 1.6cqw/1 var(--bs-font-sans-serif);
  text-align: left;
  padding: 0 3px;
  overflow: hidden;
  white-space: nowrap;
  cursor: move;
  touch-action: none;
}
.box b {
  color: var(--c);
}
.l1 {
  --c: var(--tb-party-b);
  border-style: dashed;
  background: color-mix(in srgb, var(--tb-party-b) 12%, transparent);
}
.l2 {
  --c: var(--tb-paper-ink);
  border-style: dotted;
  border-width: 2px;
}
.l3 {
  --c: var(--tb-party-d);
  border-style: double;
  border-width: 3px;
}
.box.on {
  outline: 3px solid var(--tb-action);
  outline-offset: 1px;
}
.box.bad {
  border-color: var(--tb-wrong);
  background: color-mix(in srgb, var(--tb-wrong) 14%, transparent);
}
.grip {
  position: absolute;
  right: 0;
  bottom: 0;
  width: 9px;
  height: 9px;
  background: var(--c);
  cursor: nwse-resize;
  touch-action: none;
}
.places {
  overflow-y: auto;
  border-left: 1px solid var(--tb-line);
  padding: 14px 20px;
}
.places ol {
  list-style: none;
  margin: 0 -20px;
  padding: 0;
}
.places li {
  border-top: 1px solid var(--tb-line);
  padding: 6px 20px;
}
.places li.on {
  background: var(--tb-sheet);
  box-shadow:
    inset 0 0 0 1px var(--tb-action),
    inset 3px 0 0 var(--tb-action);
}
.line {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  width: 100%;
  text-align: left;
  background: none;
  border: 0;
  padding: 2px 0;
  color: inherit;
}
.another {
  border-top: 1px solid var(--tb-ink);
  margin-top: var(--tb-s3);
  padding-top: var(--tb-s2);
}
.message {
  display: block;
  margin-top: var(--tb-s4);
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--tb-s4);
  border-top: 2px solid var(--tb-ink);
  background: var(--tb-sheet);
  padding: 10px 24px;
}
.bar p {
  margin: 0;
}
@media (max-width: 900px) {
  .send {
    height: auto;
  }
  .desk {
    display: block;
  }
  .places {
    border: 0;
    padding: 14px 16px;
  }
  .places ol {
    margin: 0 -16px;
  }
  .bar {
    position: sticky;
    bottom: 56px;
    flex-wrap: wrap;
    padding: 10px 16px;
  }
}
</style>
