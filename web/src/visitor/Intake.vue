<script setup lang="ts">
import { useThrottleFn } from '@vueuse/core'
import { computed, ref, shallowRef } from 'vue'
import IconCheck from '~icons/ph/check'
import IconPlus from '~icons/ph/file-plus'
import IconUpload from '~icons/ph/upload-simple'
import { api, data, type Schemas } from '../api/client'
import type { SealedFile } from '../sealed/manifest'
import { namedIn } from '../sealed/naming'
import { numberWord, sizeWords } from '../i18n/words'
import { progress, type Coming } from '../uploads/coming'
import { chosen, dropped, type Brought } from '../uploads/dropped'
import { useBringing } from './bringing'
import ComingFile from './ComingFile.vue'
import HandIn from './HandIn.vue'
import ReceivedLine from './ReceivedLine.vue'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** Where a visitor hands papers in: those that are waited for, and anything else. */
const props = defineProps<{ intake: Schemas['VisitIntake']; practice: string; address: boolean }>()
const emit = defineEmits<{ changed: [intake: Schemas['VisitIntake']] }>()
const { token, trying } = useThisVisit()
const size = (n: number) => sizeWords(n, language.value)
const over = ref(false)

const look = () => trying(async () => emit('changed', await data(api.GET('/visits/{token}/intake', { params: { path: { token } } }))))
// Thousands of files may arrive: what is here is asked for at most every two seconds.
const lookSoon = useThrottleFn(() => void look(), 2000, true)
const bringing = useBringing(token, () => void lookSoon())
const coming = computed(() => bringing.all.value.filter((f) => f.state !== 'done'))
const papers = computed(() =>
  props.intake.expected.map((p, i) => ({
    ...p,
    i,
    files: props.intake.received.filter((r) => r.paper === p.name),
    coming: coming.value.filter((f) => f.to.paper === String(i)),
  })),
)
/** The first missing paper is the next to do. */
const first = computed(() => props.intake.expected.findIndex((p) => !p.here))
const others = computed(() => props.intake.received.filter((r) => !r.paper))
const otherComing = computed(() => coming.value.filter((f) => f.to.paper === undefined))
const unsent = computed(() => props.intake.received.filter((r) => !r.handedIn))
const here = computed(() => props.intake.expected.filter((p) => p.here).length)
const heading = computed(() => {
  const all = props.intake.expected.length
  if (props.address && !unsent.value.length) return say(props.intake.received.length ? 'sendMore' : 'sendFiles')
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

/** To an address goes a list of files: what lay in folders says so in its name. */
async function bring(files: Brought[], paper?: number) {
  const flattened = props.address ? files.map(flat) : files
  const recipient = props.intake.sealsFor
  if (!recipient) return bringing.bring(flattened, { paper })
  const { wrap } = await import('../sealed/parcel')
  const wrapped = await Promise.all(flattened.map((f) => wrap(f, recipient)))
  sealed.value = [...sealed.value, ...wrapped.map((w) => w.named)]
  bringing.bring(wrapped.map((w) => w.brought))
}
/** What sealed files are called: only this page knows. */
const sealed = shallowRef<SealedFile[]>([])
const nameOf = (name: string) => namedIn(sealed.value, name)?.name ?? name
function flat({ file, path }: Brought): Brought {
  if (!path) return { file, path }
  return {
    file: new File([file], `${path.replaceAll('/', ' – ')} – ${file.name}`, { type: file.type, lastModified: file.lastModified }),
    path: '',
  }
}
function choose(e: Event, paper?: number) {
  const input = e.target as HTMLInputElement
  if (input.files) bring(chosen(input.files), paper)
  input.value = ''
}
async function drop(e: DragEvent) {
  over.value = false
  if (e.dataTransfer) bring(await dropped(e.dataTransfer))
}
function why(f: Coming) {
  const code = f.refusal?.code ?? ''
  const words = {
    'ending-not-taken': say('kindNotTaken', { kinds: props.intake.endings.join(', ') }),
    'intake-full': say('full'),
    'too-large': say('full'),
    'practice-full': say('full'),
    'dossier-full': say('full'),
    'deliveries-full': say('full'),
    offline: say('offline'),
  }
  return words[code as keyof typeof words] ?? say('notTaken')
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
          <ReceivedLine v-for="f in p.files" :key="f.id" :file="f" @changed="emit('changed', $event)" />
          <div v-for="f in p.coming" :key="f.id" class="small">
            <p class="quiet">{{ progress.name(f) }}</p>
            <ComingFile :file="f" :refusal="why(f)" />
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
          <h3>{{ nameOf(progress.name(f)) }}</h3>
          <ComingFile :file="f" :refusal="why(f)" />
        </div>
        <div class="acts">
          <button v-if="f.state === 'running'" type="button" class="btn btn-plain btn-small" @click="f.pause()">
            {{ say('pause') }}
          </button>
          <button v-else-if="f.state !== 'waiting'" type="button" class="btn btn-plain btn-small" @click="f.again()">
            {{ say(f.state === 'paused' ? 'goOn' : 'tryAgain') }}
          </button>
        </div>
      </li>
      <li v-for="f in others" :key="f.id" class="done" :data-file="f.name">
        <span class="tick"><IconCheck :aria-label="say('isHere')" role="img" /></span>
        <div>
          <h3>{{ nameOf(f.name) }}</h3>
          <ReceivedLine :file="f" named @changed="emit('changed', $event)" />
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
    <p v-if="intake.sealsFor" class="small quiet">{{ say('sealsFor', { sender: intake.sender.name, practice }) }}</p>
    <HandIn
      :sealed="sealed"
      :intake="intake"
      :address="address"
      :practice="practice"
      :coming="!!bringing.active.value"
      @changed="emit('changed', $event)"
    />
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
  padding-bottom: var(--tb-s2);
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
  margin: var(--tb-s5) 0 var(--tb-s3);
  align-items: center;
  font-size: var(--tb-read);
}
.drop b {
  font-weight: 600;
}
@media (max-width: 720px) {
  .list li {
    grid-template-columns: 32px 1fr auto;
    padding: 9px 0;
  }
}
</style>
