<script setup lang="ts">
import { useIntersectionObserver, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import IconCheck from '~icons/ph/check'
import InkView from './InkView.vue'
import SignPad from './SignPad.vue'
import { useSheet } from './signing'
import { boxStyle, byHand, type Hand, type Place, type Sheet, type SignWord } from './word'

/**
 * A paper as a party signs it: read first, then led from place to place, then handed in. It knows nothing of who
 * signs by which way; that is its surroundings'.
 */
const props = defineProps<{
  sheet: Sheet
  picture: (page: number, width: number) => string
  word: SignWord
  when: (iso: string) => string
  /** The words of the paper, page by page. */
  text: () => Promise<string[]>
  keep: (kept: { values: Sheet['kept']['values']; pages: number[] }) => Promise<void>
  /** Brings a file to a place; what is wrong with it is said in words. */
  bring: (place: number, file: File) => Promise<{ name: string; sha256: string } | string>
  busy?: boolean
  wrong?: string
  /** It is signed in the presence of whoever is signed in. */
  presence?: boolean
}>()
const emit = defineEmits<{ sign: [kept: Sheet['kept']]; decline: [reason: string]; hand: [name: string, email: string]; later: [] }>()
const narrow = useMediaQuery('(max-width: 800px)')
const s = useSheet(() => props.sheet, { keep: (k) => props.keep(k) })
const me = computed(() => props.sheet.parties[props.sheet.party]!)
const open = ref<number>()
const agrees = ref(false)
const asking = ref<'' | 'decline' | 'hand'>('')
const reason = ref('')
const other = ref({ name: '', email: '' })
const draft = ref<Hand>()
/** Whether the words of each page stand below it, for who does not see its picture, or reads better so. */
const asText = ref(false)
const words = ref<string[]>([])
async function readAsText() {
  asText.value = !asText.value
  if (asText.value && !words.value.length) words.value = await props.text().catch(() => [])
}
const last = computed(() => s.asked.value.length + 1)

const before = computed(() => props.sheet.parties.filter((p) => p.signedAt && p.signs).map((p) => p.name))
const after = computed(() => props.sheet.parties.filter((p) => !p.signedAt && p.signs && p.turn > me.value.turn).map((p) => p.name))
const placesOn = (page: number) => props.sheet.places.filter((p) => p.page === page && p.kind !== 'signed-on')
const filledOn = (page: number) => props.sheet.filled.filter((f) => f.place.page === page)
const valueOf = (p: Place) => s.values.value.get(p.id)
const label = (p: Place) =>
  [p.label || props.word(`your.${p.kind}`), props.word('page', { n: p.page }), p.must ? '' : props.word('optional')]
    .filter(Boolean)
    .join(', ')

function show(p: Place) {
  open.value = p.id
  draft.value = valueOf(p)?.hand
  void nextTick(() => {
    const el = document.getElementById(`place-${p.id}`)
    el?.scrollIntoView({ block: narrow.value ? 'start' : 'center', behavior: 'instant' })
    el?.querySelector<HTMLElement>('input, select, textarea, [data-first]')?.focus({ preventScroll: true })
  })
}
function go(from?: Place) {
  const next = s.after(from)
  if (next) show(next)
  else {
    open.value = undefined
    void nextTick(() => document.getElementById('hand-in')?.scrollIntoView({ block: 'center', behavior: 'instant' }))
  }
}
function give(p: Place, text: string) {
  s.give(p, text.trim() ? { text } : undefined)
}
function handed(p: Place) {
  s.give(p, draft.value ? { hand: draft.value } : undefined)
  go(p)
}
const bringing = ref(false)
const unbrought = ref('')
async function bringTo(p: Place, input: HTMLInputElement) {
  const file = input.files?.[0]
  if (!file) return
  bringing.value = true
  unbrought.value = ''
  const got = await props.bring(p.id, file)
  bringing.value = false
  input.value = ''
  if (typeof got === 'string') unbrought.value = got
  else s.give(p, { text: got.name, sha256: got.sha256 })
}
const same = (p: Place) => s.asked.value.filter((o) => o.kind === p.kind).length

/** A page counts as seen once half of it was before the eyes for a moment. */
const pages = useTemplateRef<HTMLElement[]>('pages')
const timers = new Map<number, ReturnType<typeof setTimeout>>()
onMounted(() => {
  for (const el of pages.value ?? []) {
    const n = Number(el.dataset.page)
    useIntersectionObserver(
      el,
      ([e]) => {
        clearTimeout(timers.get(n))
        const tall = el.clientHeight > window.innerHeight ? 0.3 : 0.55
        if (e && e.intersectionRatio >= tall)
          timers.set(
            n,
            setTimeout(() => s.seen.value.add(n), 500),
          )
      },
      { threshold: [0, 0.3, 0.55, 0.9] },
    )
  }
})
function toPage(n: number) {
  pages.value?.find((el) => Number(el.dataset.page) === n)?.scrollIntoView({ block: 'start', behavior: 'instant' })
}
const ready = computed(() => !s.left.value.length && !s.unread.value)
const leftWords = computed(() => (s.left.value.length === 1 ? props.word('leftOne') : props.word('left', { n: s.left.value.length })))
defineExpose({ toPage })
</script>

<template>
  <div class="signing">
    <aside class="way">
      <slot name="head" />
      <p class="small quiet for">{{ word('for', { name: me.role ? `${me.name}, ${me.role}` : me.name }) }}</p>
      <h1>{{ sheet.name.replace(/\.\w+$/, '') }}</h1>
      <p class="no small quiet ref">{{ sheet.ref }}, {{ word('version', { n: sheet.version }) }}</p>
      <p class="terms lead">
        {{ word(me.signs ? 'asked' : 'askedFill', { until: when(sheet.until) }) }}
        <template v-if="before.length">{{ word('before', { who: before.join(', ') }) }}</template>
        <template v-if="after.length">{{ ' ' }}{{ word('after', { who: after.join(', ') }) }}</template>
      </p>
      <p v-if="sheet.message" class="message">{{ sheet.message }}</p>
      <ol class="stops">
        <li :class="{ done: !s.unread.value }">
          <span class="dot" aria-hidden="true">
            <IconCheck v-if="!s.unread.value" />
            <template v-else>1</template>
          </span>
          <button type="button" class="stop" @click="toPage(s.unread.value || 1)">
            <b>{{ word('read') }}</b>
            <span class="small quiet">
              {{
                s.unread.value
                  ? word('readSome', { n: s.seen.value.size, all: sheet.pages.length })
                  : word('readAll', { n: sheet.pages.length })
              }}
            </span>
          </button>
        </li>
        <li v-for="(p, i) in s.asked.value" :key="p.id" :class="{ done: s.given(p), on: open === p.id }">
          <span class="dot" aria-hidden="true">
            <IconCheck v-if="s.given(p)" />
            <template v-else>{{ i + 2 }}</template>
          </span>
          <button type="button" class="stop" :data-stop="p.id" @click="show(p)">
            <b>{{ p.label || word(`kind.${p.kind}`) }}</b>
            <span class="small quiet">{{ word('page', { n: p.page }) }}{{ p.must ? '' : `; ${word('optional')}` }}</span>
          </button>
        </li>
        <li :class="{ on: ready }">
          <span class="dot" aria-hidden="true">{{ last + 1 }}</span>
          <span class="stop">
            <b>{{ word('handIn') }}</b>
            <span class="small quiet">{{ word('handInHint') }}</span>
          </span>
        </li>
      </ol>
      <div class="waysout">
        <p v-if="presence" class="small">{{ word('inPerson', { name: me.name }) }}</p>
        <form v-if="asking === 'decline'" class="asked" @submit.prevent="emit('decline', reason)">
          <label for="decline-why">{{ word('declineWhy', { sender: sheet.sender }) }}</label>
          <textarea id="decline-why" v-model="reason" class="form-control" rows="3" maxlength="1000" required></textarea>
          <div class="acts">
            <button type="submit" class="btn btn-primary" :disabled="busy || !reason.trim()">{{ word('declineDo') }}</button>
            <button type="button" class="btn btn-text" @click="asking = ''">{{ word('back') }}</button>
          </div>
        </form>
        <form v-else-if="asking === 'hand'" class="asked" @submit.prevent="emit('hand', other.name, other.email)">
          <label for="hand-name">{{ word('handName') }}</label>
          <input id="hand-name" v-model="other.name" class="form-control" maxlength="200" required />
          <label for="hand-email">{{ word('handEmail') }}</label>
          <input id="hand-email" v-model="other.email" type="email" class="form-control" maxlength="320" required />
          <div class="acts">
            <button type="submit" class="btn btn-primary" :disabled="busy">{{ word('handDo') }}</button>
            <button type="button" class="btn btn-text" @click="asking = ''">{{ word('back') }}</button>
          </div>
        </form>
        <div v-else class="acts">
          <button type="button" class="btn btn-plain" @click="emit('later')">{{ word('later') }}</button>
          <button type="button" class="btn btn-plain" @click="asking = 'decline'">{{ word(narrow ? 'declineShort' : 'decline') }}</button>
          <button v-if="sheet.mayHand" type="button" class="btn btn-text" @click="asking = 'hand'">{{ word('hand') }}</button>
        </div>
        <p class="small quiet" role="status">
          {{ s.state.value === 'failed' ? word('notKept') : s.state.value === 'keeping' ? word('keeping') : word('kept') }}
        </p>
      </div>
    </aside>
    <div class="papers">
      <p class="as-text">
        <button type="button" class="btn btn-plain btn-small" :aria-pressed="asText" data-as-text @click="readAsText">
          {{ word('asText') }}
        </button>
      </p>
      <div v-for="(size, i) in sheet.pages" :key="i" ref="pages" class="leaf" :data-page="i + 1">
        <div class="drawn" :style="{ aspectRatio: `${size.width} / ${size.height}` }">
          <img :src="picture(i + 1, 1100)" :alt="word('pageOf', { n: i + 1, all: sheet.pages.length })" loading="lazy" />
          <span v-for="f in filledOn(i + 1)" :key="`f${f.place.id}`" class="filled" :style="boxStyle(f.place.box)">
            <InkView v-if="f.hand" :hand="f.hand" :label="word('signedBy', { name: sheet.parties[f.place.party]?.name ?? '' })" />
            <span v-else>{{ f.text }}</span>
          </span>
          <button
            v-for="p in placesOn(i + 1)"
            :key="p.id"
            type="button"
            class="box"
            :class="{ done: s.given(p), on: open === p.id, may: !p.must }"
            :style="boxStyle(p.box)"
            :aria-label="`${valueOf(p)?.text || p.label || word(`kind.${p.kind}`)}, ${label(p)}`"
            :aria-expanded="open === p.id"
            :data-place="p.id"
            @click="show(p)"
          >
            <InkView v-if="valueOf(p)?.hand" :hand="valueOf(p)!.hand!" />
            <IconCheck v-else-if="p.kind === 'tick' && valueOf(p)?.text" class="tick" />
            <span v-else-if="valueOf(p)?.text">{{ valueOf(p)!.text }}</span>
            <span v-else class="hint">{{ p.label || word(`kind.${p.kind}`) }}</span>
          </button>
        </div>
        <section v-if="asText" class="words" :aria-label="word('pageOf', { n: i + 1, all: sheet.pages.length })">
          {{ words[i]?.trim() || word('noWords') }}
        </section>
        <template v-for="p in placesOn(i + 1)" :key="`o${p.id}`">
          <section v-if="open === p.id" :id="`place-${p.id}`" class="opened" :aria-label="label(p)" @keydown.esc="open = undefined">
            <header>
              <h2>{{ p.label || word(`your.${p.kind}`) }}</h2>
              <span v-if="byHand(p.kind)" class="small">{{ me.name }}{{ me.role ? `, ${me.role}` : '' }}</span>
            </header>
            <div class="inside">
              <template v-if="byHand(p.kind)">
                <SignPad :key="p.id" :hand="valueOf(p)?.hand" :name="me.name" :word="word" @change="draft = $event" />
                <div class="acts end">
                  <span class="small">
                    {{ word('as', { name: me.name })
                    }}{{ p.kind === 'initials' && same(p) > 1 ? ` ${word('forAll', { n: same(p) })}` : '' }}
                  </span>
                  <button type="button" class="btn btn-primary" :disabled="!draft" data-here @click="handed(p)">
                    <IconCheck aria-hidden="true" />
                    {{ word(p.kind === 'initials' ? 'initialHere' : 'here') }}
                  </button>
                </div>
              </template>
              <form v-else @submit.prevent="go(p)">
                <select
                  v-if="p.kind === 'choice'"
                  class="form-select"
                  :value="valueOf(p)?.text ?? ''"
                  :aria-label="label(p)"
                  @change="give(p, ($event.target as HTMLSelectElement).value)"
                >
                  <option value=""></option>
                  <option v-for="c in p.choices" :key="c" :value="c">{{ c }}</option>
                </select>
                <label v-else-if="p.kind === 'tick'" class="ticking">
                  <input
                    type="checkbox"
                    :checked="!!valueOf(p)?.text"
                    @change="give(p, ($event.target as HTMLInputElement).checked ? 'yes' : '')"
                  />
                  {{ p.label || word('tickHere') }}
                </label>
                <div v-else-if="p.kind === 'paper'" class="brings">
                  <p v-if="valueOf(p)?.text" role="status">
                    <b>{{ valueOf(p)!.text }}</b>
                    <span class="no small quiet">{{ ` ${valueOf(p)!.sha256?.slice(0, 8)}…` }}</span>
                  </p>
                  <label class="btn btn-plain" :class="{ disabled: bringing }">
                    {{ bringing ? word('paperBringing') : word(valueOf(p)?.text ? 'paperOther' : 'paperChoose') }}
                    <input
                      type="file"
                      class="visually-hidden"
                      :disabled="bringing"
                      :aria-label="label(p)"
                      :data-bring="p.id"
                      @change="bringTo(p, $event.target as HTMLInputElement)"
                    />
                  </label>
                  <p class="small quiet">{{ word('paperHint', { sender: sheet.sender }) }}</p>
                  <p v-if="unbrought" class="t-caution" role="alert">{{ unbrought }}</p>
                </div>
                <input
                  v-else
                  class="form-control"
                  :type="p.kind === 'date' ? 'date' : 'text'"
                  :inputmode="p.kind === 'number' ? 'decimal' : undefined"
                  :maxlength="p.most || 2000"
                  :value="valueOf(p)?.text ?? ''"
                  :aria-label="label(p)"
                  @input="give(p, ($event.target as HTMLInputElement).value)"
                />
                <div class="acts end">
                  <button type="button" class="btn btn-text" @click="open = undefined">{{ word('close') }}</button>
                  <button type="submit" class="btn btn-primary" data-here>{{ word('doneHere') }}</button>
                </div>
              </form>
            </div>
          </section>
        </template>
      </div>
      <form id="hand-in" class="handin" @submit.prevent="emit('sign', s.kept())">
        <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
        <p v-if="s.left.value.length" class="lead" role="status">
          {{ leftWords }}.
          <button type="button" class="go" data-next @click="go()">{{ word('next') }}</button>
        </p>
        <p v-else-if="s.unread.value" class="lead" role="status">
          {{ word('unread', { n: s.unread.value }) }}
          <button type="button" class="go" @click="toPage(s.unread.value)">{{ word('page', { n: s.unread.value }) }}</button>
        </p>
        <p v-else class="lead" role="status">{{ word('ready') }}</p>
        <label class="ticking">
          <input v-model="agrees" type="checkbox" data-consent />
          {{ (me.signs && sheet.consent) || word(me.signs ? 'consent' : 'consentFill') }}
        </label>
        <button type="submit" class="btn btn-primary" :disabled="!ready || !agrees || busy" data-sign>
          <IconCheck aria-hidden="true" />
          {{ busy ? word('busy') : word(me.signs ? 'finish' : 'finishFill') }}
        </button>
      </form>
    </div>
  </div>
</template>

<style scoped>
.signing {
  display: grid;
  grid-template-columns: minmax(300px, 400px) minmax(0, 1fr);
  min-height: 100dvh;
  align-items: start;
}
.way {
  position: sticky;
  top: 0;
  height: 100dvh;
  overflow-y: auto;
  padding: 36px 40px 20px 48px;
  display: flex;
  flex-direction: column;
  border-right: 1px solid var(--tb-line);
  background: var(--tb-page);
}
h1 {
  font-size: var(--tb-letter);
  line-height: 1.15;
  margin: 2px 0;
  overflow-wrap: anywhere;
}
.ref {
  padding-bottom: var(--tb-s4);
  border-bottom: 1px solid var(--tb-ink);
}
.lead {
  font-size: var(--tb-large);
}
.message {
  white-space: pre-wrap;
  border-left: 3px solid var(--tb-line);
  padding-left: var(--tb-s3);
}
.stops {
  list-style: none;
  margin: 0 0 var(--tb-s5);
  padding: 0;
}
.stops li {
  position: relative;
  display: grid;
  grid-template-columns: 28px 1fr;
  gap: var(--tb-s3);
  padding-bottom: var(--tb-s3);
}
.stops li:not(:last-child)::before {
  content: '';
  position: absolute;
  left: 13px;
  top: 26px;
  bottom: 0;
  border-left: 2px dashed var(--tb-rule);
}
.stops li.done:not(:last-child)::before {
  border-left: 2px solid var(--tb-ink);
}
.dot {
  width: 26px;
  height: 26px;
  border-radius: 50%;
  border: 2px solid var(--tb-edge);
  display: grid;
  place-items: center;
  font-size: var(--tb-small);
  font-weight: 600;
  background: var(--tb-page);
}
.done .dot {
  background: var(--tb-ink);
  border-color: var(--tb-ink);
  color: var(--tb-sheet);
}
.on .dot {
  background: var(--tb-action);
  border-color: var(--tb-action);
  color: var(--tb-on-action);
  box-shadow:
    0 0 0 2px var(--tb-page),
    0 0 0 4px var(--tb-action);
}
.stop {
  display: block;
  text-align: left;
  color: inherit;
  padding: 0;
  background: none;
  border: 0;
}
.stop span {
  display: block;
}
.waysout {
  margin-top: auto;
  padding-top: var(--tb-s4);
}
.waysout .acts,
.asked .acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s2);
  margin-bottom: var(--tb-s2);
}
.asked .form-control {
  margin: var(--tb-s1) 0 var(--tb-s2);
}
.papers {
  background: var(--tb-selection);
  padding: 24px;
  min-height: 100dvh;
}
.leaf {
  max-width: 760px;
  margin: 0 auto 20px;
  scroll-margin-top: 12px;
}
.drawn {
  position: relative;
  background: var(--tb-paper);
  color: var(--tb-paper-ink);
  box-shadow: 0 1px 4px var(--tb-shade);
  container-type: inline-size;
}
.drawn img {
  display: block;
  width: 100%;
  height: 100%;
}
.filled,
.box {
  position: absolute;
  font: 1.7cqw/1.1 var(--bs-font-sans-serif);
}
.filled {
  display: flex;
  align-items: center;
  padding: 0 2px;
  color: var(--tb-pen);
  white-space: pre-line;
}
.box {
  display: flex;
  align-items: center;
  justify-content: flex-start;
  padding: 0 3px;
  border: 1.5px dashed var(--tb-party-b);
  border-left: 4px solid var(--tb-party-b);
  border-radius: 2px;
  background: color-mix(in srgb, var(--tb-party-b) 12%, var(--tb-paper));
  color: var(--tb-pen);
  overflow: hidden;
  text-align: left;
  min-height: 0;
}
.box.may {
  border-left-width: 1.5px;
}
.box.done {
  border: 1px solid var(--tb-edge);
  background: transparent;
}
.box.on {
  outline: 3px solid var(--tb-action);
  outline-offset: 2px;
}
.box .hint {
  white-space: nowrap;
  color: var(--tb-party-b);
}
.tick {
  width: 80%;
  height: 80%;
  margin: auto;
}
.opened {
  margin: 10px 0 0;
  max-width: 560px;
  scroll-margin-top: 90px;
}
.opened header {
  display: inline-block;
  background: var(--tb-selection);
  border: 2px solid var(--tb-action);
  border-bottom: 0;
  border-radius: 3px 3px 0 0;
  padding: 6px 14px 4px;
  position: relative;
  z-index: 1;
  margin-bottom: -2px;
  min-width: 45%;
}
.opened h2 {
  font-size: var(--tb-lead);
  margin: 0;
  color: var(--tb-action);
}
.inside {
  border: 2px solid var(--tb-action);
  border-radius: 0 3px 3px 3px;
  background: var(--tb-selection);
  padding: var(--tb-s3) var(--tb-s4);
}
.inside .end {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--tb-s3);
  margin-top: var(--tb-s3);
}
.brings {
  display: grid;
  justify-items: start;
  gap: var(--tb-s2);
}
.brings p {
  margin: 0;
}
.ticking {
  display: flex;
  gap: var(--tb-s2);
  align-items: baseline;
}
.ticking input {
  flex: none;
  width: 18px;
  height: 18px;
  align-self: flex-start;
  margin-top: 2px;
}
.handin {
  max-width: 760px;
  margin: 0 auto 90px;
  background: var(--tb-sheet);
  border-top: 2px solid var(--tb-ink);
  padding: var(--tb-s4) var(--tb-s5) var(--tb-s5);
}
.handin .btn {
  margin-top: var(--tb-s4);
}
@media (max-width: 800px) {
  .signing {
    display: block;
  }
  .way {
    position: static;
    height: auto;
    padding: 14px 20px 10px;
    border-right: 0;
    border-top: 8px solid var(--tb-band);
  }
  h1 {
    font-size: var(--tb-head);
  }
  .ref {
    padding-bottom: var(--tb-s2);
    margin-bottom: var(--tb-s2);
  }
  .stops {
    display: flex;
    overflow-x: auto;
    margin: 0 -20px var(--tb-s2);
    padding: 4px 20px;
  }
  .stops li {
    flex: 1 0 64px;
    grid-template-columns: 1fr;
    gap: 2px;
    padding: 0;
    justify-items: start;
  }
  .stops li:not(:last-child)::before,
  .stops li.done:not(:last-child)::before {
    left: 26px;
    right: 0;
    top: 12px;
    bottom: auto;
    border-left: 0;
    border-top: 2px dashed var(--tb-rule);
  }
  .stops li.done:not(:last-child)::before {
    border-top: 2px solid var(--tb-ink);
  }
  .stop {
    font-size: var(--tb-small);
  }
  .stop .quiet {
    display: none;
  }
  .papers {
    padding: 12px 8px;
  }
  .handin {
    padding: var(--tb-s3);
  }
  .handin .btn,
  .inside .end .btn-primary {
    width: 100%;
    min-height: 48px;
    justify-content: center;
  }
  .inside .end {
    flex-wrap: wrap;
  }
  .waysout .acts .btn {
    flex: 1;
    min-height: 44px;
  }
}
.as-text {
  max-width: 760px;
  margin: 0 auto 8px;
  text-align: right;
}
.words {
  white-space: pre-wrap;
  line-height: 1.6;
  padding: 16px 20px;
  background: var(--tb-sheet);
  color: var(--tb-ink);
  border-top: 1px solid var(--tb-line);
}
</style>
