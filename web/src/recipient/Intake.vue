<script setup lang="ts">
import { useThrottleFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import IconCheck from '~icons/ph/check'
import IconPlus from '~icons/ph/file-plus'
import IconUpload from '~icons/ph/upload-simple'
import { api, data, Refusal, type Schemas } from '../api/client'
import { numberWord, sizeWords } from '../i18n/words'
import { chosen, dropped } from '../uploads/dropped'
import { useBringing, type HandingIn } from './bringing'
import { language, say } from './words'

/** Where a visitor hands papers in: those that are waited for, and anything else. */
const props = defineProps<{ token: string; intake: Schemas['VisitIntake']; practice: string }>()
const emit = defineEmits<{ changed: [intake: Schemas['VisitIntake']]; refused: [error: unknown] }>()
const size = (n: number) => sizeWords(n, language.value)
const path = { token: props.token }
const name = ref('')
const email = ref(props.intake.email)
const note = ref('')
const wrong = ref('')
const done = ref(false)
const over = ref(false)
const busy = ref(false)

async function look() {
  try {
    emit('changed', await data(api.GET('/visits/{token}/intake', { params: { path } })))
  } catch (e) {
    emit('refused', e)
  }
}
// Thousands of files may arrive: what is here is asked for at most every two seconds.
const lookSoon = useThrottleFn(() => void look(), 2000, true)
const bringing = useBringing(props.token, () => void lookSoon())
const coming = computed(() => bringing.all.value.filter((f) => f.state !== 'done'))
const papers = computed(() =>
  props.intake.expected.map((p, i) => ({
    ...p,
    i,
    files: props.intake.received.filter((r) => r.paper === p.name),
    coming: coming.value.filter((f) => f.paper === i),
  })),
)
/** The first missing paper is the next to do. */
const first = computed(() => props.intake.expected.findIndex((p) => !p.here))
const others = computed(() => props.intake.received.filter((r) => !r.paper))
const otherComing = computed(() => coming.value.filter((f) => f.paper === undefined))
const here = computed(() => props.intake.expected.filter((p) => p.here).length)
const heading = computed(() => {
  const all = props.intake.expected.length
  if (!all)
    return props.intake.received.length
      ? say(props.intake.received.length === 1 ? 'gotOne' : 'gotMany', { n: props.intake.received.length })
      : say('handIn')
  if (here.value === all) return say('allHere')
  const key = all === 1 ? 'oneAsked' : !here.value ? 'noneHere' : here.value === 1 ? 'oneHere' : 'someHere'
  const spoken = say(key, { n: numberWord(here.value, language.value).toLowerCase(), all: numberWord(all, language.value).toLowerCase() })
  return spoken.charAt(0).toUpperCase() + spoken.slice(1)
})
const accept = computed(() => props.intake.endings.map((e) => `.${e}`).join(',') || undefined)

function choose(e: Event, paper?: number) {
  const input = e.target as HTMLInputElement
  if (input.files) bringing.bring(chosen(input.files), paper)
  input.value = ''
}
async function drop(e: DragEvent) {
  over.value = false
  if (e.dataTransfer) bringing.bring(await dropped(e.dataTransfer))
}
const percent = (f: HandingIn) => (f.size ? Math.floor((f.sent / f.size) * 100) : 100)
function why(f: HandingIn) {
  const code = f.refusal?.code ?? ''
  const words = {
    'ending-not-taken': say('kindNotTaken', { kinds: props.intake.endings.join(', ') }),
    'intake-full': say('full'),
    'too-large': say('full'),
    'practice-full': say('full'),
    offline: say('offline'),
  }
  return words[code as keyof typeof words] ?? say('notTaken')
}
async function handIn() {
  busy.value = true
  wrong.value = ''
  try {
    emit(
      'changed',
      await data(
        api.POST('/visits/{token}/intake', {
          params: { path },
          body: { name: name.value || undefined, email: email.value || undefined, note: note.value || undefined },
        }),
      ),
    )
    done.value = true
  } catch (e) {
    if (e instanceof Refusal && e.code === 'address-form') wrong.value = say('noAddress')
    else if (e instanceof Refusal && e.code === 'too-many-tries') wrong.value = say('slow', { seconds: e.problem.retryAfter ?? 1 })
    else emit('refused', e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <div class="intake" :class="{ over }" @dragover.prevent="over = true" @dragleave.self="over = false" @drop.prevent="drop">
    <header>
      <h2>{{ heading }}</h2>
      <span v-if="bringing.active.value" class="quiet small" role="status">
        {{ say(bringing.active.value === 1 ? 'oneComing' : 'someComing', { n: bringing.active.value }) }}
      </span>
    </header>
    <ul class="list">
      <li v-for="p in papers" :key="p.i" :class="{ done: p.here, coming: p.coming.length }" :data-paper="p.name">
        <span class="tick"><IconCheck v-if="p.here" :aria-label="say('isHere')" role="img" /></span>
        <div>
          <h3>{{ p.name }}</h3>
          <p v-for="f in p.files" :key="f.sha256" class="small quiet">{{ f.name }}, {{ size(f.size) }}</p>
          <div v-for="f in p.coming" :key="f.id" class="small">
            <p class="quiet">{{ f.name }}</p>
            <template v-if="f.state === 'refused'">
              <p class="wrong" role="alert">{{ why(f) }}</p>
            </template>
            <template v-else>
              <div class="bar" role="progressbar" :aria-valuenow="percent(f)" aria-valuemin="0" aria-valuemax="100" :aria-label="f.name">
                <i :style="{ width: `${percent(f)}%` }"></i>
              </div>
              <p>
                <b>{{ percent(f) }} %</b>
                {{ ' ' }}
                <span class="quiet">{{ f.offline ? say('goesOn') : size(f.size) }}</span>
              </p>
            </template>
          </div>
        </div>
        <div class="acts">
          <label class="btn" :class="p.here ? 'btn-plain btn-small' : p.i === first ? 'btn-primary' : 'btn-plain'">
            <IconUpload v-if="!p.here" aria-hidden="true" />
            {{ say(p.here ? 'addMore' : 'add') }}
            <input type="file" class="visually-hidden" multiple :accept="accept" @change="choose($event, p.i)" />
          </label>
        </div>
      </li>
      <li v-for="f in otherComing" :key="f.id" class="coming" :data-file="f.name">
        <span class="tick"></span>
        <div>
          <h3>{{ f.name }}</h3>
          <p v-if="f.state === 'refused'" class="small wrong" role="alert">{{ why(f) }}</p>
          <template v-else>
            <div class="bar" role="progressbar" :aria-valuenow="percent(f)" aria-valuemin="0" aria-valuemax="100" :aria-label="f.name">
              <i :style="{ width: `${percent(f)}%` }"></i>
            </div>
            <p class="small">
              <b>{{ percent(f) }} %</b>
              {{ ' ' }}
              <span class="quiet">{{ f.offline ? say('goesOn') : size(f.size) }}</span>
            </p>
          </template>
        </div>
        <div class="acts">
          <button v-if="f.state === 'running'" type="button" class="btn btn-plain btn-small" @click="bringing.pause(f)">
            {{ say('pause') }}
          </button>
          <button v-else-if="f.state !== 'waiting'" type="button" class="btn btn-plain btn-small" @click="bringing.again(f)">
            {{ say(f.state === 'paused' ? 'goOn' : 'tryAgain') }}
          </button>
        </div>
      </li>
      <li v-for="f in others" :key="f.name + f.at" class="done" :data-file="f.name">
        <span class="tick"><IconCheck :aria-label="say('isHere')" role="img" /></span>
        <div>
          <h3>{{ f.name }}</h3>
          <p class="small quiet">{{ size(f.size) }}</p>
        </div>
      </li>
    </ul>
    <div class="drop">
      <IconPlus aria-hidden="true" />
      <p>
        <b>{{ say(intake.expected.length ? 'else' : 'dropHere') }}</b>
        {{ ' ' }}
        <span class="quiet">{{ say('dropHow') }}</span>
        {{ ' ' }}
        <label class="go">
          {{ say('chooseThem') }}
          <input type="file" class="visually-hidden" multiple :accept="accept" @change="choose($event)" />
        </label>
      </p>
    </div>
    <p v-if="intake.files !== undefined || intake.bytes !== undefined || intake.endings.length" class="small quiet">
      {{
        [
          intake.files !== undefined ? say(intake.files === 1 ? 'oneMoreFile' : 'moreFiles', { n: intake.files }) : '',
          intake.bytes !== undefined ? say('moreBytes', { size: size(intake.bytes) }) : '',
          intake.endings.length ? say('onlyKinds', { kinds: intake.endings.join(', ') }) : '',
        ]
          .filter(Boolean)
          .join('; ')
      }}
    </p>
    <section v-if="done" class="receipt" role="status">
      <h2>{{ say('thanks') }}</h2>
      <p class="quiet">{{ email ? say('receiptMailed', { email }) : say('receiptKeep') }}</p>
      <dl>
        <template v-for="f in intake.received" :key="f.name + f.at">
          <dt>{{ f.name }}</dt>
          <dd class="small quiet">
            {{ size(f.size) }}, SHA-256
            <span class="no">{{ f.sha256 }}</span>
          </dd>
        </template>
      </dl>
    </section>
    <form v-else-if="intake.received.length" class="finish" @submit.prevent="handIn">
      <div>
        <label for="who">{{ say('yourName') }}</label>
        <input id="who" v-model="name" class="form-control" autocomplete="name" maxlength="200" />
      </div>
      <div>
        <label for="receipt-to">{{ say('receiptTo') }}</label>
        <input id="receipt-to" v-model="email" class="form-control" type="email" autocomplete="email" :readonly="!!intake.email" />
      </div>
      <div class="whole">
        <label for="note">{{ say('note', { practice }) }}</label>
        <textarea id="note" v-model="note" class="form-control" rows="2" maxlength="5000"></textarea>
      </div>
      <p v-if="wrong" class="wrong whole" role="alert">{{ wrong }}</p>
      <div class="whole">
        <button type="submit" class="btn btn-primary big" :disabled="busy || !!bringing.active.value">{{ say('done') }}</button>
        {{ ' ' }}
        <span class="small quiet">{{ say(bringing.active.value ? 'waitComing' : 'comeBack') }}</span>
      </div>
    </form>
  </div>
</template>

<style scoped>
.intake {
  min-height: 60vh;
}
.over {
  outline: 2px dashed var(--tb-action);
  outline-offset: 12px;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  border-bottom: 1px solid var(--tb-ink);
  padding-bottom: 8px;
}
.list li {
  grid-template-columns: 44px 1fr auto;
  gap: 0;
  padding: 14px 0;
}
.list li.done h3 {
  font-weight: 400;
}
.tick {
  width: 24px;
  height: 24px;
  border: 1.5px solid var(--tb-edge);
  border-radius: 3px;
  display: grid;
  place-items: center;
  align-self: start;
}
.done .tick {
  background: var(--tb-done);
  border-color: var(--tb-done);
  color: var(--tb-sheet);
}
.coming:not(.done) .tick {
  border-color: var(--tb-action);
}
.bar {
  height: 6px;
  background: var(--tb-line);
  border-radius: 3px;
  margin: 8px 0 4px;
  max-width: 420px;
}
.bar i {
  display: block;
  height: 6px;
  background: var(--tb-action);
  border-radius: 3px;
}
.btn {
  cursor: pointer;
}
.btn:focus-within,
.go:focus-within {
  outline: 2px solid var(--tb-action);
  outline-offset: 2px;
}
.go {
  color: var(--tb-action);
  cursor: pointer;
}
.drop {
  display: grid;
  grid-template-columns: 44px 1fr;
  border: 1px dashed var(--tb-edge);
  border-radius: 3px;
  padding: 14px 16px 14px 10px;
  margin: 20px 0 12px;
  align-items: center;
  font-size: 0.9375rem;
}
.drop b {
  font-weight: 600;
}
.wrong {
  color: var(--tb-bearer-text);
  font-weight: 560;
}
.finish {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px 20px;
  margin-top: 28px;
  padding-top: 18px;
  border-top: 1px solid var(--tb-line);
}
.whole {
  grid-column: 1 / -1;
}
.finish label {
  font-size: 0.875rem;
  font-weight: 560;
}
.receipt {
  margin-top: 28px;
  padding: 18px 20px;
  border: 1px solid var(--tb-done);
  border-radius: 3px;
}
dl {
  margin: 12px 0 0;
}
dt {
  font-weight: 560;
}
dd {
  margin: 0 0 8px;
  overflow-wrap: anywhere;
}
@media (max-width: 720px) {
  .list li {
    grid-template-columns: 32px 1fr auto;
    padding: 9px 0;
  }
  .finish {
    grid-template-columns: 1fr;
  }
}
</style>
