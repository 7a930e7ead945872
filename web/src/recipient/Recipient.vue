<script setup lang="ts">
import { computed, defineAsyncComponent, onBeforeUnmount, ref } from 'vue'
import IconDownload from '~icons/ph/download-simple'
import IconEye from '~icons/ph/eye'
import { api, data, Refusal, type Schemas } from '../api/client'
import { fullMoment, momentWords, sizeWords, stemOf, type Language } from '../i18n/words'
import Look from '../parts/Look.vue'
import Mark from '../parts/Mark.vue'
import Terms from '../parts/Terms.vue'
import Thumb from './Thumb.vue'
import { useLooking } from './looking'
import { language, say } from './words'

const AddPapers = defineAsyncComponent(() => import('./AddPapers.vue'))
const Intake = defineAsyncComponent(() => import('./Intake.vue'))
const DrawnPages = defineAsyncComponent(() => import('./DrawnPages.vue'))
/** What an outsider sees: who gives, under which terms, and the papers. No account, no chrome. */
const token = location.pathname.split('/')[2] ?? ''
const path = { token }
const front = ref<Schemas['LinkFront']>()
const given = ref<Schemas['LinkContents']>()
/** What the link takes in, where it gives nothing out. */
const taking = ref<Schemas['VisitIntake']>()
const letter = computed(() => given.value ?? taking.value)
const state = ref<'loading' | 'front' | 'open' | 'gone' | 'offline'>('loading')
const password = ref('')
const email = ref('')
const code = ref('')
/** A code is on its way; now it is asked for. */
const sent = ref(false)
const wrong = ref('')
const busy = ref(false)
const looking = ref<Schemas['LinkFile']>()
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
const base = `/api/visits/${token}`
const size = (n: number) => sizeWords(n, language.value)
const when = (at: string) => momentWords(new Date(at), new Date(), language.value, zone)
let live: EventSource | undefined

function gone() {
  state.value = 'gone'
  front.value = given.value = taking.value = looking.value = undefined
  document.title = say('gone')
  live?.close()
}

function failed(e: unknown) {
  const why = e instanceof Refusal ? e.code : 'offline'
  if (why === 'link-over') gone()
  else if (why === 'needs-opening') void arrive()
  else if (why === 'wrong-password') wrong.value = say('wrong')
  else if (why === 'wrong-code') wrong.value = say('wrongCode')
  else if (why === 'address-not-allowed') wrong.value = say('notMeant')
  else if (why === 'address-form') wrong.value = say('noAddress')
  else if (why === 'too-many-tries') wrong.value = say('slow', { seconds: (e as Refusal).problem.retryAfter ?? 1 })
  else if (state.value === 'loading') state.value = 'offline'
  else wrong.value = say('offline')
}

async function arrive() {
  try {
    front.value = await data(api.GET('/visits/{token}', { params: { path } }))
    language.value = (localStorage.getItem('language') ?? front.value.language ?? 'en') as Language
    document.documentElement.lang = language.value
    document.title = front.value.practice
    if (front.value.open) await enter()
    else state.value = 'front'
  } catch (e) {
    failed(e)
  }
}

/** Whoever is signed in is known by that. */
const asksEmail = computed(() => !front.value?.knownAs && (front.value?.identify === 'stated' || front.value?.identify === 'confirmed'))
const asksCode = computed(() => asksEmail.value && front.value?.identify === 'confirmed')
const needsAccount = computed(() => front.value?.identify === 'signed-in' && !front.value.knownAs)
const label = computed(() =>
  asksCode.value && !sent.value
    ? say('sendCode')
    : front.value?.needsPassword || asksEmail.value
      ? say('open')
      : say(front.value?.kind === 'intake' ? 'begin' : 'show'),
)

async function open() {
  busy.value = true
  wrong.value = ''
  try {
    if (asksCode.value && !sent.value) {
      await api.POST('/visits/{token}/code', { params: { path }, body: { email: email.value } })
      sent.value = true
      return
    }
    await api.POST('/visits/{token}', {
      params: { path },
      body: { password: password.value || undefined, email: email.value || undefined, code: code.value || undefined },
    })
    await enter()
  } catch (e) {
    failed(e)
  } finally {
    busy.value = false
  }
}

async function enter(folder?: string) {
  chosen.value = []
  try {
    if (front.value?.kind === 'intake') taking.value = await data(api.GET('/visits/{token}/intake', { params: { path } }))
    else given.value = await data(api.GET('/visits/{token}/contents', { params: { path, query: { folder } } }))
    state.value = 'open'
    document.title = `${letter.value?.name}, ${front.value?.practice}`
    watchEnd()
  } catch (e) {
    failed(e)
  }
}

/** The page goes dead when the sender ends the link or its time is up. */
function watchEnd() {
  if (live) return
  live = new EventSource(`${base}/live`)
  live.addEventListener('over', gone)
  live.addEventListener('error', () => {
    // Refused for good: ask what stands in front now.
    if (live?.readyState === EventSource.CLOSED) {
      live = undefined
      api.GET('/visits/{token}', { params: { path } }).catch(failed)
    }
  })
}

// A page that the browser puts aside must not hold a connection, and looks again when it is brought back.
window.addEventListener('pagehide', () => live?.close())
window.addEventListener('pageshow', (e) => {
  if (e.persisted) location.reload()
})

function speak(l: Language) {
  language.value = l
  document.documentElement.lang = l
  localStorage.setItem('language', l)
}

const kinds = {
  pdf: 'pdf',
  picture: 'picture',
  sound: 'sound',
  video: 'video',
  table: 'table',
  text: 'text',
  markdown: 'text',
  none: 'other',
} as const
function kindOf(f: Schemas['LinkFile']) {
  if (f.look !== 'pages') return kinds[f.look]
  if (f.mediaType === 'application/pdf') return 'pdf'
  if (/word|opendocument.text|presentation|powerpoint/.test(f.mediaType)) return 'document'
  return f.mediaType.startsWith('image/') ? 'picture' : /csv|tab-sep|spreadsheet/.test(f.mediaType) ? 'table' : 'text'
}
/** Many pictures are laid out as a contact sheet. */
const pictures = computed(() => (given.value?.files.length ?? 0) >= 4 && given.value?.files.every((f) => kindOf(f) === 'picture'))
const files = (n: number) => (n === 1 ? say('file') : say('files', { n }))
const allLabel = computed(() => {
  const n = given.value?.count ?? 0
  return say(n === 1 ? 'one' : n === 2 ? 'both' : 'all', { size: size(given.value?.bytes ?? 0) })
})
/** What was chosen to be downloaded together. */
const chosen = ref<string[]>([])
const chosenBytes = computed(() => given.value?.files.filter((f) => chosen.value.includes(f.id)).reduce((sum, f) => sum + f.size, 0) ?? 0)
const allHref = computed(() =>
  given.value?.count === 1 && given.value.files[0] ? `${base}/documents/${given.value.files[0].id}/content?download` : `${base}/archive`,
)
const eyes = useLooking(token)
const beforeLook = ref<HTMLElement>()
function look(f: Schemas['LinkFile'], e: Event) {
  beforeLook.value = e.currentTarget as HTMLElement
  looking.value = f
  eyes.begin(f.id)
}
/** A document that cannot be drawn says so itself; anything else concerns the link. */
function refused(e: unknown) {
  if (!(e instanceof Refusal) || e.code !== 'unshowable') failed(e)
}
function closeLook() {
  eyes.end()
  looking.value = undefined
  beforeLook.value?.focus()
}
void arrive()
onBeforeUnmount(() => live?.close())
</script>

<template>
  <main v-if="state === 'gone'" class="gone">
    <h1>{{ say('gone') }}</h1>
    <p class="terms">{{ say('goneWhy') }}</p>
  </main>
  <main v-else-if="state === 'offline'" class="gone">
    <h1>{{ say('offline') }}</h1>
    <button type="button" class="btn btn-plain" @click="arrive()">↻</button>
  </main>
  <main v-else-if="state === 'loading'" class="gone quiet">{{ say('loading') }}</main>
  <div v-else class="rec">
    <section class="from">
      <div class="house">
        <Mark />
        <span>
          <b>{{ front?.practice }}</b>
          <br />
          <span class="quiet small">{{ front?.tagline }}</span>
        </span>
      </div>
      <template v-if="letter">
        <div class="msg">
          <h1>{{ letter.name }}</h1>
          <p v-if="letter.message" class="terms letter">{{ letter.message }}</p>
          <p class="sig">
            <span class="who">{{ letter.sender.initials }}</span>
            <span>
              <b class="with-comma">{{ letter.sender.name }}</b>
              {{ letter.sender.role }}
              <br />
              <span class="quiet small">{{ letter.sender.email }}, {{ letter.sender.phone }}</span>
            </span>
          </p>
        </div>
        <p class="terms you"><Terms :sentence="letter.sentence" /></p>
        <p class="small quiet rest">
          {{ given ? say('sees', { sender: letter.sender.name }) : say('onlyThey', { practice: front?.practice ?? '' }) }}
        </p>
      </template>
      <div v-else class="msg">
        <h1>{{ say(front?.kind === 'intake' ? 'asks' : 'gives', { sender: front?.sender ?? '' }) }}</h1>
      </div>
    </section>
    <main class="enc">
      <div class="lang">
        <button type="button" lang="en" :aria-pressed="language === 'en'" @click="speak('en')">English</button>
        <button type="button" lang="de" :aria-pressed="language === 'de'" @click="speak('de')">Deutsch</button>
      </div>
      <form v-if="state === 'front'" class="gate" @submit.prevent="open">
        <template v-if="needsAccount">
          <p class="terms letter">{{ say('needsAccount', { sender: front?.sender ?? '', practice: front?.practice ?? '' }) }}</p>
          <div>
            <a class="btn btn-primary big" :href="`/sign-in?next=/l/${token}`">{{ say('signIn') }}</a>
          </div>
        </template>
        <template v-else-if="asksEmail">
          <p class="quiet">
            {{ sent ? say('codeSent', { email }) : say(asksCode ? 'confirmed' : 'stated', { sender: front?.sender ?? '' }) }}
          </p>
          <template v-if="!sent">
            <h2>
              <label for="email">{{ say('email') }}</label>
            </h2>
            <input id="email" v-model="email" class="form-control" type="email" autocomplete="email" autofocus required />
          </template>
          <template v-else>
            <h2>
              <label for="code">{{ say('code') }}</label>
            </h2>
            <input id="code" v-model="code" class="form-control no" inputmode="numeric" autocomplete="one-time-code" autofocus required />
          </template>
        </template>
        <template v-if="front?.needsPassword && (!asksCode || sent) && !needsAccount">
          <h2>
            <label for="password">{{ say('password') }}</label>
          </h2>
          <p class="quiet">{{ say('passwordHint') }}</p>
          <input
            id="password"
            v-model="password"
            class="form-control"
            type="password"
            autocomplete="off"
            :autofocus="!asksEmail"
            required
          />
        </template>
        <p v-else-if="!asksEmail && !needsAccount" class="terms letter">
          {{ front?.kind === 'intake' ? say('frontIntake') : say('front', { sender: front?.sender ?? '' }) }}
        </p>
        <p v-if="front?.knownAs && front.identify !== 'none'" class="quiet">{{ say('knownAs', { email: front.knownAs }) }}</p>
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <div v-if="!needsAccount">
          <button type="submit" class="btn btn-primary big" :disabled="busy">{{ label }}</button>
        </div>
        <button v-if="asksCode && sent" type="button" class="again" @click="((sent = false), (code = ''), (wrong = ''))">
          {{ say('another') }}
        </button>
      </form>
      <Intake
        v-else-if="taking"
        :token="token"
        :intake="taking"
        :practice="front?.practice ?? ''"
        @changed="taking = $event"
        @refused="failed"
      />
      <template v-else-if="given">
        <nav v-if="given.way.length > 1" class="way">
          <template v-for="(f, i) in given.way" :key="f.id">
            <button v-if="i < given.way.length - 1" type="button" @click="enter(f.id)">{{ f.name }}</button>
            <b v-else>{{ f.name }}</b>
            <template v-if="i < given.way.length - 1">/</template>
          </template>
        </nav>
        <header>
          <h2>{{ say('enclosed', { n: files(given.count) }) }}</h2>
          <span class="quiet small">{{ say('together', { size: size(given.bytes) }) }}</span>
        </header>
        <ul :class="{ contact: pictures }">
          <li v-for="f in given.folders" :key="f.id" class="folder">
            <h3>{{ f.name }}</h3>
            <span class="acts">
              <button type="button" class="btn btn-plain" @click="enter(f.id)">{{ say('openFolder') }}</button>
            </span>
          </li>
          <li v-for="f in given.files" :key="f.id" :data-file="f.name">
            <Thumb :file="f" :pages="`${base}/documents/${f.id}/pages`" />
            <div>
              <label v-if="!given.viewOnly && given.files.length > 2" class="pick">
                <input
                  v-model="chosen"
                  type="checkbox"
                  class="form-check-input"
                  :value="f.id"
                  :aria-label="say('pick', { name: f.name })"
                />
              </label>
              <div class="no quiet">{{ f.ref }}</div>
              <h3>{{ stemOf(f.name) }}</h3>
              <div class="small">{{ say(kindOf(f)) }}, {{ size(f.size) }}</div>
              <div class="small quiet" :title="fullMoment(new Date(f.at), language, zone)">
                {{ say('version', { n: f.version, when: when(f.at) }) }}
              </div>
              <div class="small quiet sha">
                SHA-256
                <span class="no">{{ f.sha256.slice(0, 8) }}…{{ f.sha256.slice(-8) }}</span>
              </div>
            </div>
            <span class="acts">
              <button v-if="f.look !== 'none'" type="button" class="btn btn-plain" @click="look(f, $event)">
                <IconEye aria-hidden="true" />
                {{ say('view') }}
              </button>
              <a v-if="!given.viewOnly" class="btn btn-plain" :href="`${base}/documents/${f.id}/content?download`" download>
                <IconDownload aria-hidden="true" />
                {{ say('download') }}
              </a>
            </span>
          </li>
        </ul>
        <p v-if="!given.files.length && !given.folders.length" class="quiet">{{ say('empty') }}</p>
        <AddPapers
          v-if="given.mayAdd"
          :key="given.way.at(-1)?.id"
          :token="token"
          :folder="given.way.at(-1)?.id"
          @arrived="enter(given.way.at(-1)?.id)"
        />
        <p v-if="given.keptBack" class="small quiet kept-back">
          {{ say(given.keptBack === 1 ? 'oneKeptBack' : 'keptBack', { n: given.keptBack, practice: front?.practice ?? '' }) }}
        </p>
        <p v-if="given.viewOnly && given.count" class="quiet">{{ say('marked') }}</p>
        <footer v-else-if="given.count">
          <a
            v-if="chosen.length"
            class="btn btn-primary big"
            :href="`${base}/archive?${chosen.map((id) => `item=${id}`).join('&')}`"
            download
          >
            <IconDownload aria-hidden="true" />
            {{ say(chosen.length === 1 ? 'chosenOne' : 'chosenMany', { n: chosen.length, size: size(chosenBytes) }) }}
          </a>
          <a v-else class="btn btn-primary big" :href="allHref" download>
            <IconDownload aria-hidden="true" />
            {{ allLabel }}
          </a>
          <p class="small quiet">
            <template v-if="given.count > 1">{{ say('asArchive') }}</template>
            {{ ' ' }}
            <template v-if="given.newest">{{ say('newest') }}</template>
          </p>
        </footer>
      </template>
    </main>
    <section v-if="looking" class="view" role="dialog" aria-modal="true" :aria-label="looking.name" @keydown.esc="closeLook">
      <header>
        <h2>{{ looking.name }}</h2>
        <a v-if="!given?.viewOnly" class="btn btn-plain" :href="`${base}/documents/${looking.id}/content?download`" download>
          {{ say('download') }}
        </a>
        <button type="button" class="btn btn-plain" autofocus @click="closeLook">{{ say('close') }}</button>
      </header>
      <DrawnPages
        v-if="looking.look === 'pages'"
        :id="looking.id"
        :key="looking.id"
        :token="token"
        :name="looking.name"
        @seen="eyes.seen"
        @refused="refused"
      />
      <Look
        v-else
        :look="looking.look"
        @seen="eyes.seen"
        :content="`${base}/documents/${looking.id}/content`"
        :size="looking.size"
        :name="looking.name"
        :prepare="() => data(api.GET('/visits/{token}/documents/{id}/preview', { params: { path: { token, id: looking!.id } } }))"
        :words="{ loading: say('vLoading'), failed: say('vFailed'), none: say('vNone'), cut: say('vCut'), empty: say('vEmpty') }"
      />
    </section>
  </div>
</template>
