<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, data, Refusal, type Schemas } from '../api/client'
import Mark from '../parts/Mark.vue'
import { bringPaper } from '../parts/signing/bring'
import SigningSheet from '../parts/signing/SigningSheet.vue'
import type { Sheet } from '../parts/signing/word'
import Languages from './Languages.vue'
import { useThisVisit } from './visit'
import { language, say, saySign, signProblem } from './words'

/** What a party outside is asked to sign. */
const visit = useThisVisit()
const path = { token: visit.token }
const sheet = ref<Sheet>()
const busy = ref(false)
const wrong = ref('')
const later = ref(false)
const handed = ref('')
const when = (iso: string) =>
  new Date(iso).toLocaleString(language.value, { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
const load = () =>
  visit.trying(async () => {
    sheet.value = await data(api.GET('/to-sign/{token}', { params: { path } }))
  })
void load()
const me = computed(() => sheet.value?.parties[sheet.value.party])
const waits = computed(() =>
  (sheet.value?.parties ?? [])
    .filter((p) => p.waits)
    .map((p) => p.name)
    .join(', '),
)
async function act(fn: () => Promise<unknown>) {
  busy.value = true
  wrong.value = ''
  try {
    await fn()
    await load()
    window.scrollTo(0, 0)
  } catch (e) {
    wrong.value = e instanceof Refusal ? (signProblem(e.code) ?? say('offline')) : say('offline')
    if (e instanceof Refusal && e.code === 'link-over') visit.failed(e)
    if (e instanceof Refusal && (e.code === 'signed-already' || e.code === 'signing-over')) await load()
  } finally {
    busy.value = false
  }
}
const sign = (kept: Schemas['SigningKept']) =>
  act(() => api.POST('/to-sign/{token}', { params: { path }, body: { ...kept, agrees: true } }))
const decline = (reason: string) => act(() => api.POST('/to-sign/{token}/declining', { params: { path }, body: { reason } }))
async function hand(name: string, email: string) {
  await act(() => api.POST('/to-sign/{token}/handing', { params: { path }, body: { name, email } }))
  if (!wrong.value) handed.value = name
}
const text = async () => await data(api.GET('/to-sign/{token}/words', { params: { path } }))
const keep = async (kept: Schemas['SigningKept']) => {
  await api.PUT('/to-sign/{token}', { params: { path }, body: kept })
}
const bring = (place: number, file: File) =>
  bringPaper(`/api/to-sign/${visit.token}`, place, file, (e) => (e instanceof Refusal && signProblem(e.code)) || say('offline'))
const over = computed(() => sheet.value && ['declined', 'called-off', 'expired'].includes(sheet.value.status))
</script>

<template>
  <main v-if="!sheet" class="gone quiet">{{ visit.wrong.value || say('loading') }}</main>
  <main v-else-if="handed || later || over || me?.signedAt || !me?.waits" class="gone signed">
    <p class="house">
      <Mark />
      <b>{{ sheet.practice }}</b>
    </p>
    <template v-if="handed">
      <h1>{{ saySign('handed', { name: handed }) }}</h1>
    </template>
    <template v-else-if="later">
      <h1>{{ saySign('laterDone') }}</h1>
      <button type="button" class="btn btn-plain" @click="later = false">{{ saySign('again') }}</button>
    </template>
    <template v-else-if="over">
      <h1>{{ saySign('overTitle') }}</h1>
      <p class="terms">{{ saySign(`over.${sheet.status}`) }}</p>
      <p v-if="sheet.reason" class="terms">“{{ sheet.reason }}”</p>
    </template>
    <template v-else-if="me?.signedAt">
      <h1>{{ saySign('doneTitle') }}</h1>
      <p class="terms">{{ saySign(sheet.status === 'finished' ? 'doneAll' : 'done') }}</p>
      <p class="small quiet">{{ sheet.name }}, {{ when(me.signedAt) }}</p>
    </template>
    <template v-else>
      <h1>{{ saySign('waitTitle') }}</h1>
      <p class="terms">{{ saySign('wait', { who: waits }) }}</p>
    </template>
  </main>
  <SigningSheet
    v-else
    :sheet="sheet"
    :picture="(n, width) => `${visit.base}/documents/${sheet!.itemId}/pages/${n}?width=${width}`"
    :word="saySign"
    :when="when"
    :text="text"
    :keep="keep"
    :bring="bring"
    :busy="busy"
    :wrong="wrong"
    @sign="sign"
    @decline="decline"
    @hand="hand"
    @later="later = true"
  >
    <template #head>
      <div class="house">
        <Mark />
        <span>
          <b>{{ sheet.practice }}</b>
          <br />
          <span class="quiet small">{{ sheet.tagline }}</span>
        </span>
        <Languages />
      </div>
    </template>
  </SigningSheet>
</template>

<style scoped>
.house {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
  margin-bottom: var(--tb-s5);
}
.signed .house {
  justify-content: center;
}
@media (max-width: 800px) {
  .house {
    margin-bottom: var(--tb-s2);
  }
}
</style>
