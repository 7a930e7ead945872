<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { usePaperCheck, useSigning } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import Letter from './Letter.vue'
import Verdict from './Verdict.vue'

/** A request beside the list: how far its parties are, what can be done about it, and what the signed paper proves. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const { data, error, refetch } = useSigning(() => props.id)
const line = computed(() => data.value?.line)
const { data: check } = usePaperCheck(
  () => line.value?.itemId ?? '',
  () => (line.value?.status === 'finished' ? line.value.final : undefined),
)
const { act, busy, wrong } = useAct()
const writing = ref<'' | 'off' | 'until' | number>('')
const reason = ref('')
const other = ref({ name: '', email: '' })
const days = ref('7')
const path = computed(() => ({ path: { id: props.id } }))
async function do_(fn: () => Promise<unknown>, done: string) {
  if (await act(fn, { done })) writing.value = ''
}
const remind = () => do_(() => api.POST('/signings/{id}/reminders', { params: path.value }), t('signing.reminded'))
const off = () => do_(() => api.POST('/signings/{id}/end', { params: path.value, body: { reason: reason.value } }), t('signing.calledOff'))
const prolong = () => {
  const until = new Date()
  until.setDate(until.getDate() + Number(days.value))
  until.setHours(18, 0, 0, 0)
  return do_(() => api.PUT('/signings/{id}/until', { params: path.value, body: { until: until.toISOString() } }), t('signing.prolonged'))
}
function change(p: Schemas['SigningPartyState'], i: number) {
  const body = {
    role: p.role,
    turn: p.turn,
    name: other.value.name,
    email: other.value.email,
    known: 'link' as const,
    signs: p.signs,
    mayHand: true,
  }
  return do_(
    () => api.PUT('/signings/{id}/parties/{party}', { params: { path: { id: props.id, party: i } }, body }),
    t('signing.changed', { name: other.value.name }),
  )
}
/** How a party's part came about, in one sentence. */
const done = (p: Schemas['SigningPartyState']) =>
  [
    t(p.signs ? 'signing.signedAt' : 'signing.filledAt', { when: said.exact(p.signedAt!) }),
    p.known && t(`signing.known.${p.known}`, { before: p.before }),
    p.pages && t('signing.pagesSeen', { pages: p.pages, all: line.value!.pages }),
    p.network && t('signing.from', { network: p.network }),
  ]
    .filter(Boolean)
    .join('; ')
function begin(i: number) {
  other.value = { name: '', email: '' }
  writing.value = i
}
</script>

<template>
  <aside class="one" :aria-label="line?.name">
    <Failed v-if="error && !data" :error="error" @again="refetch()" />
    <p v-else-if="!line" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <RouterLink class="go small back" to="/signing">← {{ t('signing.title') }}</RouterLink>
      <p class="no small quiet">{{ line.ref }}, {{ t('signing.version', { n: line.version }) }}</p>
      <h2>{{ line.name.replace(/\.\w+$/, '') }}</h2>
      <p class="acts">
        <RouterLink v-if="line.mine !== undefined" class="btn btn-primary" :to="`/signing/${id}/sign`" data-sign-here>
          {{ t('signing.readAndSign') }}
        </RouterLink>
        <RouterLink class="btn btn-plain btn-small" :to="`/d/${line.ref}`">{{ t('signing.toDocument') }}</RouterLink>
        <a v-if="line.status === 'finished'" class="btn btn-plain btn-small" :href="`/api/documents/${line.itemId}/content?download=1`">
          {{ t('signing.download') }}
        </a>
        <a
          v-if="line.manages && line.parties.some((p) => p.signedAt)"
          class="btn btn-plain btn-small"
          :href="`/api/signings/${id}/evidence.pdf`"
        >
          {{ t('signing.evidence') }}
        </a>
      </p>
      <p v-if="line.trouble" class="t-caution" role="status">{{ t('signing.troubleWhy') }}</p>
      <Verdict v-if="check" :check="check" />
      <h3>{{ t('signing.partiesOf', line.parties.length) }}</h3>
      <ol class="parties">
        <li v-for="(p, i) in line.parties" :key="p.letter">
          <Letter :letter="p.letter" :done="!!p.signedAt" :waits="p.waits" />
          <div>
            <b>{{ p.name }}</b>
            <span v-if="p.role" class="quiet">{{ ', ' }}{{ p.role }}</span>
            <p class="small quiet">
              <template v-if="p.signedAt">{{ done(p) }}</template>
              <template v-else-if="p.waits">
                {{ t('signing.since', { when: said.when(p.since ?? line.since) }) }},
                {{ p.openings ? t('signing.opened', p.openings) : t('signing.notOpened') }}
              </template>
              <template v-else>{{ line.status === 'going' ? t('signing.later') : t('signing.notDone') }}</template>
            </p>
            <p v-if="line.manages && line.status === 'going' && !p.signedAt" class="small">
              <button type="button" class="go" @click="begin(i)">{{ t('signing.change') }}</button>
              <RouterLink v-if="p.waits && !p.person" class="go" :to="`/signing/${id}/sign?party=${i}`">
                {{ t('signing.inPerson') }}
              </RouterLink>
            </p>
            <form v-if="writing === i" class="write" @submit.prevent="change(p, i)">
              <p class="terms">{{ t('signing.insteadOf', { name: p.name, letter: p.letter }) }}</p>
              <label>
                {{ t('signing.name') }}
                <input v-model="other.name" class="form-control" maxlength="200" required />
              </label>
              <label>
                {{ t('signing.email') }}
                <input v-model="other.email" type="email" class="form-control" maxlength="320" required />
              </label>
              <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('signing.changeDo') }}</button>
              <button type="button" class="btn btn-text btn-small" @click="writing = ''">{{ t('common.discard') }}</button>
            </form>
          </div>
        </li>
      </ol>
      <template v-if="data?.papers.length">
        <h3>{{ t('signing.broughtTitle') }}</h3>
        <ul class="events small">
          <li v-for="b in data.papers" :key="b.place">
            <Letter :letter="line.parties[b.party]?.letter ?? ''" />
            {{ ' ' }}
            <a class="go" :href="`/api/signings/${id}/papers/${b.place}`" download>{{ b.name }}</a>
            <span class="quiet">{{ ` ${said.size(b.size)}` }}</span>
          </li>
        </ul>
      </template>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <template v-if="line.manages && line.status === 'going'">
        <p class="small">{{ t('signing.untilWhen', { when: said.when(line.until) }) }}</p>
        <p class="acts">
          <button type="button" class="btn btn-plain btn-small" :disabled="busy" data-remind @click="remind">
            {{ t('signing.remind') }}
          </button>
          <button type="button" class="btn btn-plain btn-small" @click="writing = 'until'">{{ t('signing.prolong') }}</button>
          <RouterLink v-if="line.parties.every((p) => !p.signedAt)" class="btn btn-plain btn-small" :to="`/signing/${id}/places`">
            {{ t('signing.correct') }}
          </RouterLink>
          <button type="button" class="btn btn-plain btn-small" data-off @click="writing = 'off'">{{ t('signing.callOff') }}</button>
        </p>
        <form v-if="writing === 'off'" class="write" @submit.prevent="off">
          <label for="off-why">{{ t('signing.callOffWhy') }}</label>
          <textarea id="off-why" v-model="reason" class="form-control" rows="2" maxlength="1000" required></textarea>
          <button type="submit" class="btn btn-primary btn-small" :disabled="busy || !reason.trim()">{{ t('signing.callOffDo') }}</button>
          <button type="button" class="btn btn-text btn-small" @click="writing = ''">{{ t('common.discard') }}</button>
        </form>
        <form v-if="writing === 'until'" class="write" @submit.prevent="prolong">
          <label>
            {{ t('signing.prolongBy') }}
            <select v-model="days" class="form-select">
              <option v-for="d in ['3', '7', '14', '30', '60']" :key="d" :value="d">{{ t('signing.days', Number(d)) }}</option>
            </select>
          </label>
          <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('signing.prolongDo') }}</button>
          <button type="button" class="btn btn-text btn-small" @click="writing = ''">{{ t('common.discard') }}</button>
        </form>
      </template>
      <details v-if="data?.events.length">
        <summary>{{ t('signing.events', { n: data.events.length, when: said.day(line.sentAt) }) }}</summary>
        <ol class="events small">
          <li v-for="(e, i) in data.events" :key="i">
            <span class="quiet">{{ said.when(e.at) }}</span>
            {{ t(`signing.event.${e.kind}`, { name: e.name ?? '', sender: line.sender }) }}
            <template v-if="e.reason">“{{ e.reason }}”</template>
          </li>
        </ol>
      </details>
    </template>
  </aside>
</template>

<style scoped>
.one {
  border-left: 1px solid var(--tb-line);
  background: var(--tb-page);
  padding: 20px;
  overflow-wrap: anywhere;
}
.back {
  display: none;
}
h2 {
  margin: 0 0 var(--tb-s2);
}
h3 {
  border-bottom: 1px solid var(--tb-ink);
  padding-bottom: 4px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s2);
}
.parties,
.events {
  list-style: none;
  margin: 0;
  padding: 0;
}
.parties li {
  display: grid;
  grid-template-columns: 28px 1fr;
  padding: var(--tb-s2) 0;
  border-bottom: 1px solid var(--tb-line);
}
.parties p {
  margin: 0;
}
.parties .go {
  margin-right: var(--tb-s3);
}
.write {
  background: var(--tb-selection);
  border: 1px solid var(--tb-action);
  border-radius: 3px;
  padding: var(--tb-s3);
  margin: var(--tb-s2) 0;
}
.write label {
  display: block;
  margin-bottom: var(--tb-s2);
}
details {
  margin-top: var(--tb-s4);
}
.events li {
  padding: 3px 0;
}
@media (max-width: 900px) {
  .one {
    border: 0;
    padding: 14px 16px;
  }
  .back {
    display: block;
  }
}
</style>
