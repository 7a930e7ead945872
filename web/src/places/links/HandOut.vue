<script setup lang="ts">
import Sheet from '../../parts/Sheet.vue'
import { linkKeys, useLinkDraft } from '../../queries/links'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, reactive, ref, watch } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import IconCaution from '~icons/ph/warning-diamond'
import IconCopy from '~icons/ph/copy'
import IconEye from '~icons/ph/eye'
import IconLink from '~icons/ph/link-simple'
import { api, data, type Schemas } from '../../api/client'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/notices'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import { useWallClock } from '../../app/wallclock'
import { stemOf } from '../../i18n/words'
import Choices from '../../parts/Choices.vue'
import Door from '../../parts/Door.vue'
import Failed from '../../app/Failed.vue'
import LimitGloss from '../../sentences/LimitGloss.vue'
import LinkMade from './LinkMade.vue'
import UntilGloss from '../../sentences/UntilGloss.vue'
import WritingSentence from '../../sentences/WritingSentence.vue'

/** The writing sheet: a hand-out link as a sentence, its consequences, and the link once it is made; or the terms of one that is out, to be changed. */
type Term = NonNullable<Schemas['Part']['term']>
const props = defineProps<{ items: string[]; link?: Schemas['Link'] }>()
const emit = defineEmits<{ close: [] }>()
const { t, locale } = useI18n()
const said = useSaid()
const store = useSession()
const { local, moment } = useWallClock()
const queries = useQueryClient()
const terms = reactive<{
  name: string
  until?: string
  openings?: number
  password?: string
  newest: boolean
  viewOnly: boolean
  kind: Schemas['LinkKind']
  slug?: string
  tell: Schemas['Telling']
  language: 'en' | 'de'
  expected: string
  intakeFiles?: number
  intakeBytes?: number
  intakeEndings?: string
  identify: Schemas['Identity']
  allowed?: string
  downloads?: number
  notBefore?: string
}>({
  name: '',
  newest: false,
  viewOnly: false,
  kind: 'hand-out',
  tell: 'never',
  language: locale.value as 'en' | 'de',
  expected: '',
  identify: 'none',
})
if (props.link) {
  const {
    name,
    until,
    openingsLimit,
    newest,
    viewOnly,
    kind,
    slug,
    tell,
    intakeFiles,
    intakeBytes,
    intakeEndings,
    identify,
    allowed,
    downloadsLimit,
    notBefore,
  } = props.link
  Object.assign(terms, {
    name,
    until,
    newest,
    viewOnly,
    kind,
    slug,
    tell,
    intakeFiles,
    intakeBytes,
    intakeEndings: intakeEndings.length ? intakeEndings.join(', ') : undefined,
    identify,
    notBefore,
    openings: openingsLimit,
    downloads: downloadsLimit,
    allowed: allowed.length ? allowed.join(', ') : undefined,
  })
}
const opened = ref<Term>()
const makeButton = ref<HTMLButtonElement>()
const doneButton = ref<HTMLButtonElement>()
const copied = ref(false)

/** It gives papers out; otherwise it takes some in. */
const gives = computed(() => terms.kind !== 'intake')
const words = (typed?: string) => (typed ?? '').split(/[\s,;]+/).filter(Boolean)
/** What a visitor may do: one of the kinds, and what belongs to it. */
type Way = 'download' | 'view' | 'working' | 'intake'
const kindOf = (w: Way) => (w === 'intake' || w === 'working' ? w : 'hand-out')
const ways = computed(() =>
  (['download', 'view', 'working', 'intake'] as const)
    .filter((w) => draft.value?.kinds.includes(kindOf(w)) ?? kindOf(w) === 'hand-out')
    .map((w) => ({
      value: w,
      words: t(`handout.way.${w}`),
      why: t(`handout.wayWhy.${w}`),
      disabled: !!props.link && kindOf(w) !== props.link.kind,
    })),
)
const way = computed<Way>(() => (terms.kind !== 'hand-out' ? terms.kind : terms.viewOnly ? 'view' : 'download'))
function setWay(w: Way) {
  terms.kind = kindOf(w)
  terms.viewOnly = w === 'view'
}
const identities = computed(() =>
  (['none', 'stated', 'confirmed', 'signed-in'] as const).map((i) => ({
    value: i,
    words: t(`handout.identity.${i}`),
    why: t(`handout.identityWhy.${i}`),
  })),
)
const versions = computed(() =>
  (['this', 'newest'] as const).map((v) => ({
    value: v,
    words: t(`handout.${v}${isFolder.value ? 'Folder' : 'Version'}`),
    why: t(v === 'newest' ? 'handout.newestWhy' : 'handout.thisVersionWhy'),
  })),
)
/** How much an intake takes is typed in MB; while nothing is typed the limit stays. */
const intakeMegabytes = computed({
  get: () => terms.intakeBytes && Math.round(terms.intakeBytes / 1e6),
  set: (n) => (terms.intakeBytes = n ? Math.max(1, n) * 1e6 : terms.intakeBytes),
})
/** What was typed, as a list; an entry that is still being typed is not yet one. */
const listed = computed(() => (terms.allowed ?? '').split(/[\s,;]+/).filter((a) => a.includes('.')))
/** The password of a link that is out stays, but is not known here. */
const kept = computed(() => props.link?.hasPassword && terms.password === undefined)
const body = computed(() => ({
  items: props.items,
  name: terms.name || undefined,
  until: terms.until,
  openings: terms.openings,
  password: terms.password || (kept.value ? '········' : undefined),
  newest: terms.newest,
  viewOnly: terms.kind === 'hand-out' && terms.viewOnly,
  identify: terms.identify,
  allowed: listed.value,
  downloads: gives.value && !terms.viewOnly ? terms.downloads : undefined,
  kind: terms.kind,
  slug: terms.slug || undefined,
  tell: terms.tell,
  expected: gives.value ? undefined : terms.expected.split('\n').filter((p) => p.trim()),
  intakeFiles: terms.intakeFiles,
  intakeBytes: terms.intakeBytes,
  intakeEndings: words(terms.intakeEndings),
  notBefore: terms.notBefore,
  language: terms.language,
}))
const draft = ref<Schemas['LinkDraft']>()
const { data: fresh, error, refetch } = useLinkDraft(body)
/** A draft that fails keeps the sentence that stood before. */
watch(fresh, (d) => d && (draft.value = d), { immediate: true })
/** The word of the sentence at which it fails. */
const refusedTerm = computed(() => ({ viewOnly: 'may', kind: 'may' })[draft.value?.refused?.term ?? ''] ?? draft.value?.refused?.term)
/** The documents in which something sensitive was found. */
const holding = computed(() => [...new Set(draft.value?.sensitive.map((f) => f.item))])
const controls = computed<Term[]>(() => [
  'may',
  'until',
  ...(props.link || terms.kind === 'working' ? [] : (['version'] as Term[])),
  ...((props.link ? terms.password || kept.value : terms.password !== undefined) ? (['password'] as Term[]) : []),
  ...(['openings', 'downloads', 'notBefore', 'intakeFiles', 'intakeBytes', 'intakeEndings'] as const).filter((k) => terms[k] !== undefined),
  ...(terms.identify !== 'none' ? (['identify'] as Term[]) : []),
  ...(listed.value.length ? (['allowed'] as Term[]) : []),
])
const isFolder = computed(() => !/\/\d/.test(draft.value?.title ?? '') && props.items.length === 1)

const change = useMutation({
  mutationFn: () =>
    data(
      api.PUT('/links/{id}/terms', {
        params: { path: { id: props.link?.id ?? '' } },
        body: {
          ...body.value,
          password: terms.password,
          name: terms.name || props.link?.name || '',
          until: terms.until ?? draft.value?.usualUntil ?? '',
        },
      }),
    ),
  onSuccess: () => {
    tell(t('handout.changed', { name: terms.name || props.link?.name }))
    void queries.invalidateQueries({ predicate: (q) => q.queryKey[1] !== linkKeys.drafts[1] })
    emit('close')
  },
})
const make = useMutation({
  mutationFn: () => data(api.POST('/links', { body: body.value })),
  onSuccess: async (link) => {
    copied.value = !!link.address && (await copyText(link.address))
    void queries.invalidateQueries({ predicate: (q) => q.queryKey[1] !== linkKeys.drafts[1] })
  },
})
const made = computed(() => make.data.value)

async function offerPassword() {
  terms.password = (await data(api.POST('/links/password'))).password
}
/** One act adds a term with a sensible value. */
async function add(term: Schemas['LinkDraft']['offers'][number]) {
  if (term === 'password') await offerPassword()
  if (term === 'openings') terms.openings = 1
  if (term === 'downloads') terms.downloads = 1
  if (term === 'intakeFiles') terms.intakeFiles = 20
  if (term === 'intakeBytes') terms.intakeBytes = 1_000_000_000
  if (term === 'intakeEndings') terms.intakeEndings = 'pdf, jpg, png'
  if (term === 'notBefore') terms.notBefore = new Date(Math.ceil(said.now.value.getTime() / 3_600_000) * 3_600_000).toISOString()
  if ((term === 'identify' || term === 'allowed') && terms.identify === 'none') terms.identify = 'confirmed'
  if (term === 'allowed') terms.allowed = ''
  opened.value = term
}
function setIdentity(i: Schemas['Identity']) {
  terms.identify = i
  if (i === 'none') drop('allowed')
}
function setFrom(e: Event) {
  const typed = (e.target as HTMLInputElement).value
  if (typed) terms.notBefore = moment(typed.slice(0, 10), typed.slice(11, 16)).toISOString()
}
function toggle(term: Term) {
  if (term === 'allowed') return document.getElementById('allowed')?.focus()
  opened.value = opened.value === term ? undefined : term
}
function drop(term: 'password' | 'openings' | 'downloads' | 'notBefore' | 'allowed' | 'intakeFiles' | 'intakeBytes' | 'intakeEndings') {
  if (term === 'password' && props.link) terms.password = ''
  else terms[term] = undefined
  opened.value = undefined
}
function escape() {
  if (opened.value) opened.value = undefined
  else emit('close')
}

onMounted(() => {
  makeButton.value?.focus()
  // What is given out stays in sight above the sheet.
  document.querySelector('.register tr[aria-selected=true]')?.scrollIntoView({ block: 'start' })
})
watch(made, async (l) => {
  if (!l) return
  await nextTick()
  doneButton.value?.focus()
})
</script>

<template>
  <Sheet
    :busy="!draft && !error"
    :label="t(link ? 'handout.changeTitle' : gives ? 'handout.title' : 'handout.titleIntake', { what: link?.name ?? draft?.title ?? '' })"
    @escape="escape"
  >
    <div class="write">
      <div class="acts head">
        <h3 class="acts">
          <Door state="open" />
          {{
            t(link ? 'handout.changeTitle' : gives ? 'handout.title' : 'handout.titleIntake', { what: link?.name ?? draft?.title ?? '…' })
          }}
        </h3>
        <slot v-if="!made && !link">
          <span class="small quiet only-wide">{{ t('handout.hint') }}</span>
        </slot>
      </div>
      <Failed v-if="error && !draft" :error="error" @again="refetch()" />
      <template v-if="draft && !made">
        <WritingSentence :sentence="draft.sentence" :controls="controls" :open="opened" :refused="refusedTerm" @toggle="toggle">
          <UntilGloss
            v-if="opened === 'until'"
            :until="terms.until ?? draft.usualUntil"
            :latest="draft.latestUntil"
            @set="terms.until = $event"
          />
          <LimitGloss
            v-else-if="opened === 'openings'"
            id="openings"
            v-model="terms.openings"
            :unit="t('handout.openingsUnit')"
            :most="100000"
            :offers="[1, 3, 5, 10]"
            @drop="drop('openings')"
          />
          <div v-else-if="opened === 'password'" class="acts row-gloss">
            <label for="password">{{ t('handout.password') }}</label>
            <input
              id="password"
              v-model="terms.password"
              class="form-control no"
              autocomplete="off"
              spellcheck="false"
              style="width: 240px"
            />
            <button type="button" @click="offerPassword">{{ t('handout.offer') }}</button>
            <button type="button" class="far" @click="drop('password')">{{ t('handout.noPassword') }}</button>
          </div>
          <LimitGloss
            v-else-if="opened === 'downloads'"
            id="downloads"
            v-model="terms.downloads"
            :unit="t('handout.downloadsUnit')"
            :most="100000"
            @drop="drop('downloads')"
          />
          <div v-else-if="opened === 'notBefore'" class="acts row-gloss">
            <label for="not-before">{{ t('handout.from') }}</label>
            <input
              id="not-before"
              class="form-control moment"
              type="datetime-local"
              :value="terms.notBefore && local(new Date(terms.notBefore))"
              @change="setFrom"
            />
            <button type="button" class="far" @click="drop('notBefore')">{{ t('handout.fromNow') }}</button>
          </div>
          <Choices
            v-else-if="opened === 'identify'"
            :label="t('handout.identityLabel')"
            :options="identities"
            :chosen="terms.identify"
            @choose="setIdentity"
          />
          <Choices v-else-if="opened === 'may'" :label="t('access.mayLabel')" :options="ways" :chosen="way" @choose="setWay" />
          <LimitGloss
            v-else-if="opened === 'intakeFiles'"
            id="intake-files"
            v-model="terms.intakeFiles"
            :unit="t('handout.filesUnit')"
            :most="10000"
            @drop="drop('intakeFiles')"
          />
          <LimitGloss
            v-else-if="opened === 'intakeBytes'"
            id="intake-bytes"
            v-model="intakeMegabytes"
            unit="MB"
            @drop="drop('intakeBytes')"
          />
          <div v-else-if="opened === 'intakeEndings'" class="acts row-gloss">
            <label for="intake-endings">{{ t('handout.endings') }}</label>
            <input
              id="intake-endings"
              v-model.lazy="terms.intakeEndings"
              class="form-control moment"
              autocomplete="off"
              spellcheck="false"
            />
            <button type="button" class="far" @click="drop('intakeEndings')">{{ t('handout.anyKind') }}</button>
          </div>
          <Choices
            v-else-if="opened === 'version'"
            :label="t('handout.versionLabel')"
            :options="versions"
            :chosen="terms.newest ? 'newest' : 'this'"
            @choose="terms.newest = $event === 'newest'"
          />
        </WritingSentence>
        <div v-if="!gives && !link" class="expects">
          <label for="expected" class="small quiet">{{ t('handout.expected') }}</label>
          <textarea
            id="expected"
            v-model.lazy="terms.expected"
            class="form-control"
            rows="3"
            :placeholder="t('handout.expectedHint')"
          ></textarea>
        </div>
        <div v-if="terms.allowed !== undefined" class="allowed">
          <label for="allowed" class="small quiet">{{ t('handout.allowed') }}</label>
          <input
            id="allowed"
            v-model.lazy="terms.allowed"
            class="form-control"
            :placeholder="t('handout.allowedHint')"
            autocomplete="off"
            spellcheck="false"
          />
          <button type="button" class="go small" @click="drop('allowed')">{{ t('handout.anybody') }}</button>
        </div>
        <div class="plus-row">
          <button v-for="o in draft.offers" :key="o" type="button" class="plus" @click="add(o)">{{ t(`handout.plus.${o}`) }}</button>
        </div>
        <p v-if="draft.ownUntil" class="small quiet">{{ t('access.ownUntil', { when: said.when(draft.ownUntil) }) }}</p>
        <p v-if="error || draft.refused" class="t-caution" role="alert">
          {{ error ? said.problem(error) : t(`problem.${draft.refused?.code}`) }}
        </p>
        <div v-if="gives" class="consequence">
          <div>
            <IconEye aria-hidden="true" />
            <span>
              <I18nT :keypath="listed.length ? 'handout.meant' : terms.password ? 'handout.both' : 'handout.newly'" scope="global">
                <template #files>
                  <b>{{ t('common.files', { n: draft.files }, draft.files) }}</b>
                </template>
                <template #size>{{ said.size(draft.bytes) }}</template>
              </I18nT>
              {{
                !draft.linkedBefore
                  ? t('handout.beforeNone')
                  : draft.files === 1
                    ? t('handout.beforeOne')
                    : t('handout.before', { n: said.count(draft.linkedBefore) }, draft.linkedBefore)
              }}
              <span class="quiet">{{ t('handout.view') }}</span>
            </span>
            <span></span>
          </div>
          <div v-if="draft.sensitive.length" class="found">
            <IconCaution aria-hidden="true" />
            <div role="status">
              <b>{{ t(draft.forbidden ? 'sensitive.forbidden' : 'sensitive.found', { n: holding.length }, holding.length) }}</b>
              <ul>
                <li v-for="f in draft.sensitive.slice(0, 6)" :key="f.item + f.kind + f.name">
                  <span class="no">{{ f.ref.split('/')[1] }}</span>
                  {{ stemOf(f.document) }}: {{ t(`sensitive.kind.${f.kind}`, { n: f.n, name: f.name }, f.n) }},
                  {{ f.page ? t('sensitive.page', { n: f.page }) : t('sensitive.line', { n: f.line }) }}
                  <span v-if="f.kind !== 'own'" class="no quiet">{{ f.shown }}</span>
                </li>
                <li v-if="draft.sensitive.length > 6" class="quiet">{{ t('sensitive.more', { n: draft.sensitive.length - 6 }) }}</li>
              </ul>
            </div>
            <span></span>
          </div>
          <p v-if="draft.left" class="small quiet">{{ t('sensitive.left', { n: draft.left }, draft.left) }}</p>
        </div>
      </template>
      <LinkMade v-if="made" :link="made" :copied="copied" :password="terms.password" />
    </div>
    <div class="side">
      <template v-if="!made">
        <div>
          <label for="link-name" class="small quiet">{{ t('handout.name') }}</label>
          <input id="link-name" v-model="terms.name" class="form-control" :placeholder="draft?.name" />
          <p class="small quiet" style="margin-top: 4px">{{ t('handout.nameHint') }}</p>
        </div>
        <div>
          <label for="slug" class="small quiet">{{ t('handout.slug') }}</label>
          <input
            id="slug"
            v-model.lazy="terms.slug"
            class="form-control no"
            :placeholder="t('handout.slugNone')"
            autocomplete="off"
            spellcheck="false"
            maxlength="26"
          />
          <p v-if="terms.slug" class="small quiet" style="margin-top: 4px">{{ t('handout.slugHint') }}</p>
        </div>
        <div>
          <label for="tell" class="small quiet">{{ t('handout.tell') }}</label>
          <select id="tell" v-model="terms.tell" class="form-control">
            <option v-for="w in ['never', 'each', 'daily'] as const" :key="w" :value="w">{{ t(`handout.telling.${w}`) }}</option>
          </select>
        </div>
        <div v-if="!link">
          <label for="language" class="small quiet">{{ t('handout.language') }}</label>
          <select id="language" v-model="terms.language" class="form-control">
            <option value="en">English</option>
            <option value="de">Deutsch</option>
          </select>
        </div>
        <p v-if="make.error.value" class="t-caution" role="alert">{{ said.problem(make.error.value) }}</p>
        <p v-if="change.error.value" class="t-caution" role="alert">{{ said.problem(change.error.value) }}</p>
        <div v-if="link" class="acts end">
          <button
            ref="makeButton"
            type="button"
            class="btn btn-primary"
            :disabled="change.isPending.value || !draft"
            @click="change.mutate()"
          >
            {{ t('handout.change') }}
          </button>
          <button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button>
        </div>
        <div v-else class="acts end">
          <button
            ref="makeButton"
            type="button"
            class="btn btn-primary"
            :disabled="make.isPending.value || (!!error && !draft) || draft?.forbidden || !!draft?.refused"
            @click="make.mutate()"
          >
            <IconLink aria-hidden="true" />
            {{ t('handout.make') }}
          </button>
          <button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button>
        </div>
      </template>
      <template v-else>
        <div v-if="terms.password">
          <h3>{{ t('handout.passwordOwn') }}</h3>
          <p class="small quiet" style="margin: 2px 0 8px">{{ t('handout.passwordWhy') }}</p>
          <blockquote class="terms">
            <I18nT keypath="handout.passwordText" scope="global">
              <template #name>{{ made.name }}</template>
              <template #practice>{{ store.practice?.name }}</template>
              <template #password>
                <b class="no nb">{{ terms.password }}</b>
              </template>
              <template #me>{{ made.by }}</template>
            </I18nT>
          </blockquote>
          <button
            type="button"
            class="btn btn-plain btn-small"
            @click="
              copyText(
                t('handout.passwordText', { name: made.name, practice: store.practice?.name, password: terms.password, me: made.by }),
              ).then((ok) => ok && tell(t('handout.passwordCopied')))
            "
          >
            <IconCopy class="i i-s" aria-hidden="true" />
            {{ t('handout.copyMessage') }}
          </button>
        </div>
        <div class="acts end">
          <button ref="doneButton" type="button" class="btn btn-primary" @click="$emit('close')">{{ t('handout.done') }}</button>
        </div>
      </template>
    </div>
  </Sheet>
</template>

<style scoped>
.desk-sheet {
  max-height: calc(100% - 120px);
  overflow-y: auto;
}
.write {
  min-height: 214px;
}
.row-gloss .moment {
  width: 210px;
}
.allowed {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr) auto;
  gap: 10px;
  align-items: center;
  margin: 8px 0;
}
.allowed .form-control {
  height: 30px;
}
.allowed .go {
  color: var(--tb-action);
}
.expects {
  margin: 8px 0;
}
.side select.form-control {
  height: 34px;
}
</style>
