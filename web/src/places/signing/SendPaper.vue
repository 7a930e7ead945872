<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import IconSign from '~icons/ph/signature'
import { api, data as answer, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDocument } from '../../queries/documents'
import { useSigningDraft } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import PeopleField, { type Named } from '../sharing/PeopleField.vue'
import Letter from './Letter.vue'
import PaperFrame from './PaperFrame.vue'
import FoundPlaces from './FoundPlaces.vue'
import PlacingDesk from './PlacingDesk.vue'
import { letterOf, usePlacing } from './placing'

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
  mayHand: false,
  message: '',
  copies: '',
  paperPassword: '',
})
const pages = computed(() => draft.value?.pages ?? [])
const placing = usePlacing(() => pages.value)
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
    mayHand: !inside(n) && terms.mayHand,
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
const ready = computed(() => to.value.length > 0 && !rest.value && !!draft.value && !problem.value && !draft.value.refused)

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
const keptAs = ref('')
/** What is set here is kept as a form: whoever is outside is named anew each time. */
async function keepAsForm() {
  const plan = wish.value.plan
  const parties = plan.parties.map((p) => (p.person ? p : { ...p, role: p.role, name: '', email: '' }))
  const definition = { plan: { ...plan, parties }, days: Number(terms.days), message: terms.message, told: !!terms.password }
  await act(
    async () => (keptAs.value = (await answer(api.POST('/signing-forms', { body: { document: props.document, definition } }))).id),
    {
      done: t('signforms.kept'),
    },
  )
}
const nameOf = (p: Schemas['SigningParty']) => names.get(p.email) || p.name
</script>

<template>
  <main v-if="missing" id="content">
    <Failed v-if="missing" :error="missing" />
  </main>
  <PaperFrame v-else :caution="!!says && to.length > 0">
    <template #head>
      <RouterLink v-if="doc" class="go small" :to="`/d/${doc.ref}`">← {{ doc.ref }}</RouterLink>
      <h1 v-if="doc">{{ doc.name.replace(/\.\w+$/, '') }}</h1>
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
            v-if="people.some((n) => !inside(n))"
            v-model="terms.mayHand"
            :label="t('signing.handing')"
            :options="[false, true].map((value) => ({ value, words: t(value ? 'signing.mayHand' : 'signing.mayNotHand') }))"
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
      <div v-if="locked" class="locked">
        <label>
          {{ t('signing.paperPassword') }}
          <input v-model="terms.paperPassword" type="password" class="form-control" autocomplete="off" />
        </label>
      </div>
      <p v-else-if="error && !draft" class="t-caution pad" role="alert">{{ said.problem(error) }}</p>
    </template>
    <PlacingDesk
      :document="document"
      :version="doc?.versions[0]?.number ?? 1"
      :pages="pages"
      :placing="placing"
      :parties="parties.map(nameOf)"
      :wrong="problem?.at"
      :loading="!draft && !error"
    >
      <template #before>
        <FoundPlaces :document="document" :placing="placing" :parties="parties.length" />
      </template>
      <template #after>
        <label class="message">
          <b>{{ t('signing.copies') }}</b>
          <input v-model="terms.copies" class="form-control" maxlength="2000" autocomplete="off" />
        </label>
        <label class="message">
          <b>{{ t('signing.tell') }}</b>
          <textarea v-model="terms.message" class="form-control" rows="3" maxlength="4000"></textarea>
        </label>
        <p v-if="to.length" class="message">
          <RouterLink v-if="keptAs" :to="`/signing/forms/${keptAs}`">{{ t('signforms.toForm') }}</RouterLink>
          <button v-else type="button" class="plus" :disabled="busy" data-keep-form @click="keepAsForm">{{ t('signforms.keep') }}</button>
        </p>
      </template>
    </PlacingDesk>
    <template #says>
      {{ wrong || says || t('signing.readySend', { when: draft ? said.when(draft.until) : '' }) }}
    </template>
    <template #act>
      <button type="button" class="btn btn-primary" :disabled="!ready || busy" data-send @click="send">
        <IconSign aria-hidden="true" />
        {{ t('signing.send') }}
      </button>
    </template>
  </PaperFrame>
</template>

<style scoped>
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
.locked {
  max-width: 420px;
}
.message {
  display: block;
  margin-top: var(--tb-s4);
}
</style>
