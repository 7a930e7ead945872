<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { numberWord, type Language } from '../../i18n/words'
import Asked from './Asked.vue'
import { useFilling, type Ways } from './filling'
import { answerWords, type Field, type Filling, type FillVoice, type FillWord, type Section } from './word'

/** A form as it is filled in: what is left, part by part, kept as one goes, and handed in. */
const props = defineProps<{ form: Filling; ways: Ways; word: FillWord; voice: FillVoice; visitor?: boolean }>()
const shown = ref(props.form)
const filler = useFilling(shown, props.ways)
const { standing, state, wrong, busy } = filler
const name = ref(props.form.by)
const correcting = ref(props.form.standing.changed)
/** Which part is open; the others are read back. Nothing is read back in a form without parts. */
const parts = computed(() => shown.value.sections.filter((s) => s.fields.length))
const isOpen = (s: Section) => s.fields.some((f) => standing.value.open.some((o) => o.field === f.id))
const at = ref(Math.max(0, parts.value.findIndex(isOpen)))
const openFields = computed(() =>
  standing.value.open.map((o) => filler.fields.value.find((f) => f.id === o.field)).filter((f): f is Field => !!f),
)
const readBack = (s: Section) =>
  s.fields
    .map((f) => answerWords(f, filler.answers[f.id] ?? '', props.voice.language))
    .filter(Boolean)
    .join(', ')
/** What was taken up stays, whatever was begun to be corrected. */
const done = computed(() => !!standing.value.handedAt && (!correcting.value || !!standing.value.takenAt))
const numberOf = (s: Section) => parts.value.indexOf(s)

async function go(f: Field) {
  at.value = parts.value.findIndex((s) => s.fields.some((x) => x.id === f.id))
  await nextTick()
  const el = document.getElementById(`asked-${f.id}`)
  document.getElementById(`at-asked-${f.id}`)?.scrollIntoView({ block: 'center' })
  el?.focus({ preventScroll: true })
}
function next() {
  const here = (document.activeElement as HTMLElement | null)?.id
  const i = openFields.value.findIndex((f) => `asked-${f.id}` === here)
  const to = openFields.value[(i + 1) % openFields.value.length]
  if (to) void go(to)
}
async function handIn() {
  const before = !!standing.value.handedAt
  if (!(await filler.handIn(props.visitor ? name.value.trim() : undefined))) return
  again.value = before
  correcting.value = false
  await nextTick()
  window.scrollTo(0, 0)
}
/** What was handed in is a correction. */
const again = ref(false)
async function once() {
  await filler.oncemore()
  correcting.value = false
  at.value = 0
}
const heard = computed(() =>
  props.word(state.value === 'failed' ? 'notKept' : 'answered', { n: standing.value.answered, all: standing.value.of }),
)
</script>

<template>
  <section v-if="done" class="receipt" role="status">
    <h2>{{ word(again ? 'handedAgain' : 'handedIn') }}</h2>
    <p v-if="standing.takenAt" class="terms">{{ word('taken', { at: voice.moment(standing.takenAt) }) }}</p>
    <p>
      {{ word('receipt', { n: standing.number ?? 0, at: voice.moment(standing.handedAt!) }) }}
      <span class="no sha">{{ standing.sha256 }}</span>
    </p>
    <p class="quiet">{{ form.email && form.resumes ? word('receiptMailed', { email: form.email }) : word('receiptKeep') }}</p>
    <dl>
      <template v-for="f in filler.fields.value" :key="f.id">
        <dt class="small quiet">{{ f.label }}</dt>
        <dd>{{ answerWords(f, filler.answers[f.id] ?? '', voice.language) || '–' }}</dd>
      </template>
    </dl>
    <p>
      <button v-if="standing.takenAt" type="button" class="btn btn-plain" @click="once">{{ word('again') }}</button>
      <button v-else type="button" class="btn btn-plain" @click="correcting = true">{{ word('correct') }}</button>
    </p>
  </section>
  <form v-else class="fill" :class="{ outside: visitor }" novalidate @submit.prevent="openFields.length ? next() : handIn()">
    <header>
      <h2>{{ word('answered', { n: standing.answered, all: standing.of }) }}</h2>
      <span class="quiet small" :class="{ 't-caution': state === 'failed' }">
        {{
          state === 'failed'
            ? word('notKept')
            : state === 'keeping'
              ? word('keeping')
              : standing.keptAt
                ? word('kept', { at: voice.clock(standing.keptAt) })
                : word('notYet')
        }}
      </span>
    </header>
    <p v-if="correcting && standing.handedAt" class="correcting">{{ word('correcting') }}</p>
    <p class="left">
      <template v-if="openFields.length">
        {{ openFields.length === 1 ? word('openOne') : word('openMany', { n: numberWord(openFields.length, voice.language as Language) }) }}
        <template v-for="(f, i) in openFields.slice(0, 8)" :key="f.id">
          {{ i ? ', ' : ' ' }}
          <button type="button" class="go" @click="go(f)">{{ f.label }}</button>
        </template>
        {{ openFields.length > 8 ? ' …' : '' }}
      </template>
      <template v-else>{{ word('none') }}</template>
    </p>
    <p v-if="wrong" class="wrong" role="alert">{{ word(wrong as 'wentOn') }}</p>
    <template v-for="(s, i) in shown.sections" :key="i">
      <section v-if="!s.fields.length" class="says">
        <h3 v-if="s.title">{{ s.title }}</h3>
        <p v-for="(line, n) in s.says" :key="n">{{ line }}</p>
      </section>
      <section v-else class="part" :class="{ opened: at === numberOf(s) || parts.length === 1 }">
        <span v-if="parts.length > 1" class="numbered" :class="{ all: !isOpen(s) }" aria-hidden="true">
          <svg v-if="!isOpen(s)" viewBox="0 0 16 16"><path d="m3 8.5 3.5 3.5L13 5" /></svg>
          <template v-else>{{ numberOf(s) + 1 }}</template>
        </span>
        <div class="body">
          <h3 v-if="parts.length > 1">
            <button type="button" class="part-name" :aria-expanded="at === numberOf(s)" @click="at = at === numberOf(s) ? -1 : numberOf(s)">
              {{ s.title || word('part', { n: numberOf(s) + 1 }) }}
            </button>
          </h3>
          <h3 v-else-if="s.title">{{ s.title }}</h3>
          <template v-if="at === numberOf(s) || parts.length === 1">
            <p v-for="(line, n) in s.says" :key="n" class="small">{{ line }}</p>
            <div class="fields">
              <Asked v-for="f in s.fields" :key="f.id" :field="f" :filler="filler" :language="voice.language" :word="word" />
            </div>
          </template>
          <p v-else class="small quiet back">{{ readBack(s) }}</p>
        </div>
        <button v-if="parts.length > 1 && at !== numberOf(s)" type="button" class="go small change" @click="at = numberOf(s)">
          {{ word(isOpen(s) ? 'answer' : 'change') }}
        </button>
      </section>
    </template>
    <footer>
      <label v-if="visitor && !openFields.length" class="your-name">
        <span>{{ word('yourName') }}</span>
        <input v-model="name" class="form-control" autocomplete="name" maxlength="100" required />
      </label>
      <button v-if="openFields.length" type="submit" class="btn btn-primary">{{ word('next') }}</button>
      <p class="quiet small">{{ word(openFields.length ? (visitor ? 'opens' : 'opensHere') : 'ready') }}</p>
      <button
        type="button"
        class="btn hand-in"
        :class="openFields.length ? 'btn-plain' : 'btn-primary'"
        :disabled="busy || !!openFields.length || (visitor && !name.trim())"
        @click="handIn"
      >
        {{ word(standing.handedAt ? 'handInAgain' : 'handIn') }}
      </button>
    </footer>
    <p class="small quiet">{{ word(form.resumes ? 'resumes' : 'thisBrowser') }}</p>
    <p class="visually-hidden" aria-live="polite">{{ heard }}</p>
  </form>
</template>

<style scoped>
.fill > header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: var(--tb-s3);
  border-bottom: 1px solid var(--tb-ink);
  padding-bottom: var(--tb-s2);
}
.left {
  margin: var(--tb-s3) 0;
}
.correcting {
  margin: var(--tb-s3) 0 0;
  padding-left: var(--tb-s3);
  border-left: 4px solid var(--tb-edge);
}
.says {
  padding: var(--tb-s2) 0 var(--tb-s3);
  white-space: pre-line;
}
.part {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 0 20px;
  align-items: start;
  border-top: 1px solid var(--tb-line);
  padding: 12px 0;
}
.part.opened {
  padding-bottom: 20px;
}
.numbered {
  width: 24px;
  height: 24px;
  display: grid;
  place-items: center;
  border: 2px solid var(--tb-action);
  border-radius: 3px;
  font-size: var(--tb-small);
  font-weight: 650;
}
.numbered.all {
  background: var(--tb-done);
  border-color: var(--tb-done);
}
.numbered svg {
  width: 16px;
  fill: none;
  stroke: var(--tb-on-action);
  stroke-width: 2;
}
h3 {
  margin: 0;
  font-size: var(--tb-large);
  line-height: 26px;
}
.part-name {
  text-align: left;
  font: inherit;
}
.back {
  overflow-wrap: anywhere;
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
  margin: 0;
}
.change {
  align-self: center;
}
.fields {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 18px 24px;
  margin-top: 10px;
}
.fill > footer {
  position: sticky;
  bottom: 0;
  display: flex;
  align-items: center;
  gap: 20px;
  margin-top: var(--tb-s4);
  padding: 14px 0;
  border-top: 2px solid var(--tb-ink);
  background: var(--tb-page);
}
.fill.outside > footer {
  background: var(--tb-sheet);
}
footer p {
  margin: 0;
  flex: 1;
}
/* What one comes to by key is not behind the line at the bottom. */
.fill :deep(:is(input, textarea, select, button)) {
  scroll-margin-block: 80px 150px;
}
.hand-in:disabled {
  border-style: dashed;
}
.your-name {
  display: grid;
  font-size: var(--tb-text);
}
.receipt dl {
  border-top: 1px solid var(--tb-line);
  margin: var(--tb-s4) 0;
  padding-top: var(--tb-s2);
}
.receipt dd {
  white-space: pre-line;
  overflow-wrap: anywhere;
  margin-bottom: var(--tb-s2);
}
.sha {
  overflow-wrap: anywhere;
}
@media (max-width: 900px) {
  .fill:not(.outside) > footer {
    bottom: 56px;
  }
}
@media (max-width: 800px) {
  .fields {
    grid-template-columns: minmax(0, 1fr);
  }
  .part {
    gap: 0 10px;
  }
  .fill > footer {
    flex-wrap: wrap;
    gap: 10px;
    padding: 10px 0;
  }
  footer p {
    display: none;
  }
  footer .btn {
    flex: 1;
    min-height: 48px;
    justify-content: center;
  }
  .your-name {
    flex-basis: 100%;
  }
}
</style>
