<script setup lang="ts">
import { base64 } from '@scure/base'
import { identityToRecipient } from 'age-encryption'
import { useIntervalFn } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import IconDownload from '~icons/ph/download-simple'
import IconKey from '~icons/ph/key'
import { Refusal, refusalOf, type Schemas } from '../api/client'
import { sizeWords } from '../i18n/words'
import { openStream } from '../sealed/age'
import { shellWord, type SealedFile } from '../sealed/manifest'
import { useSealer } from '../sealed/sealer'
import { mostInMemory } from '../sealed/saving'
import { save, wayHere } from './saving'
import SentRow from './SentRow.vue'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** The files of a sealed transfer: their list is opened here by the key or the passphrase, and each file on its way to the disk. */
const props = defineProps<{ sent: Schemas['VisitedTransfer'] }>()
const { base, enter, list, takesFetching } = useThisVisit()
const size = (n: number) => sizeWords(n, language.value)
const field = ref<HTMLInputElement>()
/** What stands behind the address; a mail program may have cut it. */
const behind = location.hash.slice(1)
const typed = ref('')
const state = ref<'needs' | 'cut' | 'opening' | 'wrong' | 'unwritten' | 'offline' | 'open'>('needs')
const identity = ref('')
const way = wayHere()

const files = computed(() =>
  props.sent.files.flatMap((f) => {
    const named = list.value?.files.find((l) => l.id === f.id)
    return named ? [{ ...f, named }] : []
  }),
)
const whole = (f: Schemas['VisitedFile']) => !!f.document
const here = computed(() => files.value.filter(whole).length)
const all = computed(() => here.value === files.value.length)
const unnamed = computed(() => props.sent.files.length - files.value.length)
useIntervalFn(() => {
  if (!props.sent.files.every(whole)) void enter()
  // Files joined since, or the list had not come yet.
  if (state.value === 'unwritten' || (state.value === 'open' && unnamed.value > 0)) void open()
}, 2000)

async function sealedList(): Promise<Uint8Array<ArrayBuffer>> {
  const answer = await fetch(`${base}/manifest`)
  if (!answer.ok) throw await refusalOf(answer)
  return new Uint8Array(await answer.arrayBuffer())
}

/** A whole key, also with what was copied around it. */
const keyIn = (text: string) => /AGE-SECRET-KEY-1[0-9A-Z]*/i.exec(text)?.[0].toUpperCase()
async function isWhole(key: string): Promise<boolean> {
  return identityToRecipient(key).then(
    () => true,
    () => false,
  )
}

/** Opens the list by what stands behind the address or was typed. */
async function open(): Promise<void> {
  const key = keyIn(typed.value || behind)
  const passphrase = props.sent.sealed === 'passphrase' && !key ? typed.value.trim() : ''
  if (key ? !(await isWhole(key)) : !passphrase) {
    state.value = typed.value ? 'wrong' : behind ? 'cut' : 'needs'
    return void nextTick(() => field.value?.focus())
  }
  if (state.value !== 'open') state.value = 'opening'
  try {
    const opener = key ? { identity: key } : { passphrase }
    const sealed = await sealedList()
    list.value = await useSealer().openManifest(sealed, opener)
    identity.value = list.value.identity ?? key!
    document.title = list.value.name
    state.value = 'open'
    if (takesFetching()) takeAll()
  } catch (e) {
    if (state.value === 'open') return
    state.value = e instanceof Refusal ? (e.code === 'not-found' ? 'unwritten' : 'offline') : e instanceof TypeError ? 'offline' : 'wrong'
    if (state.value === 'wrong') void nextTick(() => field.value?.select())
  }
}
void open()

/** What could not be saved, by file. */
const failed = ref<Record<string, string>>({})
const tooLarge = (f: SealedFile) => way === 'memory' && f.size > mostInMemory
async function take(f: SealedFile): Promise<void> {
  delete failed.value[f.id]
  try {
    const head = base64.decode(f.head)
    const key = await openStream(head, identity.value)
    await save({ id: `${f.id}-${Date.now()}`, url: `${base}/files/${f.id}`, key, head: head.length, size: f.size, name: f.name }, way)
  } catch (e) {
    if ((e as Error).name !== 'AbortError') failed.value[f.id] = say('sealFailed')
  }
}
const takeAll = () => files.value.filter((f) => f.fetchable && !tooLarge(f.named)).forEach((f) => void take(f.named))
</script>

<template>
  <form v-if="state !== 'open'" class="opener" @submit.prevent="open">
    <h2>
      <IconKey aria-hidden="true" />
      {{ say('sealed', { n: sent.files.length, size: size(sent.bytes) }) }}
    </h2>
    <p v-if="state === 'opening'" role="status">{{ say('sealOpening') }}</p>
    <p v-else-if="state === 'unwritten'" role="status">{{ say('sealUnwritten', { sender: sent.sender.name }) }}</p>
    <template v-else>
      <p v-if="state === 'cut'" class="wrong" role="alert">{{ say('sealCut', { sender: sent.sender.name }) }}</p>
      <p v-else-if="state === 'wrong'" class="wrong" role="alert">
        {{ say(sent.sealed === 'key' ? 'sealWrongKey' : 'sealWrong', { sender: sent.sender.name }) }}
      </p>
      <p v-else-if="state === 'offline'" class="wrong" role="alert">{{ say('offline') }}</p>
      <p v-else>{{ say(sent.sealed === 'key' ? 'sealNeedsKey' : 'sealNeeds', { sender: sent.sender.name }) }}</p>
      <label for="opener" class="small">{{ say(sent.sealed === 'key' ? 'sealKey' : 'sealPassphrase') }}</label>
      <div class="acts">
        <input id="opener" ref="field" v-model="typed" class="form-control no" autocomplete="off" autocapitalize="off" spellcheck="false" />
        <button type="submit" class="btn btn-primary">{{ say('sealOpen') }}</button>
      </div>
    </template>
  </form>
  <template v-else>
    <header>
      <h2>{{ all ? say('sentAll', { n: files.length }) : say('sentHere', { n: here, all: files.length }) }}</h2>
      <span class="quiet small">
        {{ all ? say('together', { size: size(sent.bytes) }) : say('sentRest', { here: size(sent.received), size: size(sent.bytes) }) }}
      </span>
    </header>
    <ul>
      <SentRow v-for="f in files" :key="f.id" :file="f" :name="f.named.name" :size="f.named.size">
        <p v-if="failed[f.id]" class="small wrong" role="alert">{{ failed[f.id] }}</p>
        <p v-if="tooLarge(f.named)" class="small quiet">{{ say('sealTooLarge') }}</p>
        <template #acts>
          <button
            v-if="f.fetchable && !tooLarge(f.named)"
            type="button"
            class="btn"
            :class="whole(f) ? 'btn-plain' : 'btn-primary'"
            @click="take(f.named)"
          >
            <IconDownload aria-hidden="true" />
            {{ say(whole(f) ? 'download' : 'sentBegin') }}
          </button>
        </template>
      </SentRow>
    </ul>
    <footer v-if="all && files.length > 1">
      <button type="button" class="btn btn-primary big" @click="takeAll">
        <IconDownload aria-hidden="true" />
        {{ say('sealAll', { size: size(sent.bytes) }) }}
      </button>
    </footer>
    <p v-if="unnamed" class="small quiet" role="status">{{ say('sealUnnamed', { n: unnamed }) }}</p>
    <p class="small quiet said">{{ say('sealSays', { practice: sent.sender.name }) }}</p>
    <details class="small">
      <summary>{{ say('sealByHand') }}</summary>
      <p>{{ say('sealByHandHow') }}</p>
      <p class="no key">{{ identity }}</p>
      <ul class="by-hand">
        <li v-for="f in files" :key="f.id">
          <a v-if="f.fetchable" :href="`${base}/files/${f.id}`" download>{{ f.name }}</a>
          <code class="no">age -d -i key.txt -o {{ shellWord(f.named.name) }} {{ f.name }}</code>
        </li>
      </ul>
    </details>
  </template>
</template>

<style scoped>
.opener {
  display: grid;
  gap: var(--tb-s3);
  max-width: 560px;
}
.opener p {
  margin: 0;
}
.opener h2 {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
}
.opener input {
  flex: 1;
}
.said {
  margin: var(--tb-s4) 0;
}
.key {
  overflow-wrap: anywhere;
  user-select: all;
}
.by-hand li {
  grid-template-columns: 1fr;
  gap: var(--tb-s1);
  padding: var(--tb-s2) 0;
  overflow-wrap: anywhere;
}
</style>
