<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import type { Schemas } from '../../api/client'
import IconSeal from '~icons/ph/seal-check'
import Failed from '../../app/Failed.vue'
import { stemOf } from '../../i18n/words'
import { isCommand, isTyping } from '../../parts/keys'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useRun } from '../../queries/decisions'
import RouteSentences from '../../sentences/RouteSentences.vue'
import { useSaid } from '../../sentences/said'
import HandOn from './HandOn.vue'
import { useRunActs } from './acts'
import RunWay from './RunWay.vue'
import Trail from './Trail.vue'
import { useDecisionWords } from './words'
import WriteHere from './WriteHere.vue'

/** A run on its own: where it stands, what was said, and one's own decision, on exactly what counts. */
const props = defineProps<{ id: string }>()
const emit = defineEmits<{ decided: [] }>()
const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const words = useDecisionWords()
const { data: page, error, refetch } = useRun(() => props.id)
const line = computed(() => page.value?.line)
const may = (what: Schemas['RunPage']['may'][number]) => page.value?.may.includes(what) ?? false
const names = computed(() => ({ people: page.value?.names ?? [], folders: page.value?.folders ?? [] }))
const stop = computed(() => line.value?.stops[line.value.at - 1])
const ahead = computed(() => (line.value ? line.value.stops.length - line.value.at : 0))
const path = computed(() => `/d/${line.value?.ref}`)
const writing = ref<'' | 'return' | 'ask' | 'hand' | 'replace' | 'off' | 'skip' | 'in' | 'signed'>('')
const again = ref<'start' | 'here'>('start')
const { decide, takeBack, ask, handIn, handOn, repeat, skip, callOff, busy, wrong } = useRunActs()
const spoken = computed(() => page.value?.trail.filter((e) => told.includes(e.kind) || e.how === 'skipped') ?? [])
const told = ['started', 'said', 'took-back', 'question', 'handed', 'resumed', 'content', 'late', 'held', 'end']

/** What is signed another way is said in words. */
const signs = computed(() => stop.value?.do === 'sign')
async function agree(note?: string) {
  if (signs.value && note === undefined) {
    writing.value = 'signed'
    return
  }
  if (!line.value || !(await decide(line.value, 'agrees', { note }))) return
  writing.value = ''
  emit('decided')
}
async function give(note: string) {
  if (line.value && (await decide(line.value, 'returns', { note, again: again.value }))) writing.value = ''
}
async function then(done: Promise<boolean>) {
  if (await done) writing.value = ''
}
function back() {
  void router.push('/decisions')
}
useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  if (isTyping(e) || isCommand(e) || writing.value) return
  const keys: Record<string, () => void> = {
    a: () => may('decide') && void agree(),
    r: () => may('decide') && (writing.value = 'return'),
    q: () => may('ask') && (writing.value = 'ask'),
  }
  if (!keys[e.key]) return
  e.preventDefault()
  keys[e.key]!()
})
</script>

<template>
  <article class="one" :aria-label="line?.name">
    <Failed v-if="error && !page" :error="error" @again="refetch()" />
    <p v-else-if="!page || !line" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <p class="only-narrow small">
        <button type="button" class="go" @click="back">{{ t('decisions.title') }}</button>
      </p>
      <header>
        <div>
          <p class="no quiet">{{ line.ref }}, {{ t('decisions.ask.version', { n: line.version }) }}</p>
          <h1 :title="line.name">{{ stemOf(line.name) }}</h1>
        </div>
        <div class="acts">
          <RouterLink class="btn btn-plain" :to="{ path, query: { look: '1' } }">{{ t('decisions.read') }}</RouterLink>
          <button v-if="may('call-off')" type="button" class="btn btn-plain" @click="writing = 'off'">{{ t('decisions.callOff') }}</button>
        </div>
      </header>
      <p class="terms">
        <template v-if="line.endedAt">{{ t(`decisions.ended.${line.status}`, { when: said.when(line.endedAt) }) }}</template>
        <template v-else-if="line.status === 'held'">{{ words.why(line) }}</template>
        <template v-else-if="line.back">{{ t('decisions.backWith', { name: line.back.name }) }}</template>
        <template v-else-if="line.waitsFor.length">
          {{ t('decisions.waits', { who: words.waitsFor(line) })
          }}{{ words.dueOf(line) ? ` ${t('decisions.waitsUntil', { when: said.when(words.dueOf(line)!) })}` : ''
          }}{{ ahead > 0 ? `; ${t('decisions.comesAfter', { n: ahead }, ahead)}` : '' }}.
        </template>
      </p>
      <WriteHere
        v-if="writing === 'off'"
        :label="t('decisions.callOffWhy')"
        :act="t('decisions.callOff')"
        needed
        :busy="busy"
        :wrong="wrong"
        @do="then(callOff(id, $event))"
        @close="writing = ''"
      />
      <RunWay :line="line" />
      <div class="two">
        <section>
          <template v-if="may('decide') && stop">
            <h2>{{ t('decisions.yours') }}</h2>
            <p v-if="page.instructions" class="terms letter">{{ page.instructions }}</p>
            <p v-if="page.seenVersion">
              <RouterLink class="go" :to="{ path: `/compare/${line.itemId}`, query: { from: page.seenVersion, to: line.version } }">
                {{ t('decisions.compare', { n: page.seenVersion }) }}
              </RouterLink>
            </p>
            <p class="small counts">
              <IconSeal aria-hidden="true" />
              <span>
                {{ t('decisions.counts', { n: line.version }) }} SHA-256
                <span class="no" :title="line.sha256">{{ `${line.sha256.slice(0, 8)}…${line.sha256.slice(-8)}` }}</span>
              </span>
            </p>
            <p v-if="wrong && !writing" class="t-caution" role="alert">{{ wrong }}</p>
            <WriteHere
              v-if="writing === 'return'"
              :label="
                t('decisions.returnTo', {
                  n: line.version,
                  name: page.names.find((n) => n.id === undefined)?.name ?? t('routes.role.author'),
                })
              "
              :act="t('decisions.returnDo')"
              needed
              :busy="busy"
              :wrong="wrong"
              @do="give"
              @close="writing = ''"
            >
              <p v-if="line.at > 1" class="terms">
                {{ t('decisions.again') }}
                <SentenceSelect
                  v-model="again"
                  :label="t('decisions.again')"
                  :options="[
                    { value: 'start', words: t('decisions.againStart') },
                    { value: 'here', words: t('decisions.againHere') },
                  ]"
                  then="."
                />
              </p>
            </WriteHere>
            <WriteHere
              v-else-if="writing === 'signed'"
              :label="t('decisions.signedHow')"
              :act="t('decisions.agree.sign')"
              needed
              :busy="busy"
              :wrong="wrong"
              @do="agree"
              @close="writing = ''"
            />
            <div v-else class="acts">
              <template v-if="signs">
                <RouterLink v-if="!page.signing" class="btn btn-primary" :to="`/signing/new/${line.itemId}`">
                  {{ t('decisions.sendForSigning') }}
                </RouterLink>
                <RouterLink v-else class="btn btn-primary" :to="`/signing/${page.signing}`">{{ t('decisions.atSigning') }}</RouterLink>
                <button type="button" class="btn btn-plain" @click="writing = 'signed'">{{ t('decisions.signedElsewhere') }}</button>
              </template>
              <button v-else type="button" class="btn btn-primary" :disabled="busy" @click="agree()">
                <IconSeal aria-hidden="true" />
                {{ t(`decisions.agree.${stop.do}`, { n: line.version }) }}
              </button>
              <button type="button" class="btn btn-plain" @click="writing = 'return'">{{ t('decisions.returnIt') }}</button>
            </div>
          </template>
          <WriteHere
            v-if="writing === 'ask'"
            :label="t('decisions.question')"
            :act="t('decisions.askDo')"
            needed
            :busy="busy"
            :wrong="wrong"
            @do="then(ask(id, $event))"
            @close="writing = ''"
          />
          <WriteHere
            v-else-if="writing === 'in'"
            :label="t('decisions.handInNote')"
            :act="t('decisions.handIn')"
            :busy="busy"
            :wrong="wrong"
            @do="then(handIn(line, $event))"
            @close="writing = ''"
          />
          <WriteHere
            v-else-if="writing === 'skip'"
            :label="t('decisions.skipWhy')"
            :act="t('decisions.skip')"
            needed
            :busy="busy"
            :wrong="wrong"
            @do="then(skip(id, $event))"
            @close="writing = ''"
          />
          <HandOn
            v-else-if="writing === 'hand' || writing === 'replace'"
            :item="line.itemId"
            :asked="line.waitsFor"
            :mine="writing === 'hand' ? words.me() : undefined"
            :busy="busy"
            :wrong="wrong"
            @do="(from, to, note) => then(handOn(id, from, to, note))"
            @close="writing = ''"
          />
          <p v-if="!writing" class="small more">
            <button v-if="may('hand-in')" type="button" class="btn btn-primary" @click="writing = 'in'">{{ t('decisions.handIn') }}</button>
            <button v-if="may('take-back')" type="button" class="go" :disabled="busy" @click="takeBack(id)">
              {{ t('decisions.takeBack') }}
            </button>
            <button v-if="may('ask') && may('decide')" type="button" class="go" @click="writing = 'ask'">
              {{ t('decisions.askSomething') }}
            </button>
            <button v-if="may('decide')" type="button" class="go" @click="writing = 'hand'">{{ t('decisions.handOn') }}</button>
            <button v-if="may('look-after') && line.status === 'held'" type="button" class="go" :disabled="busy" @click="repeat(id)">
              {{ t('decisions.repeat') }}
            </button>
            <button v-if="may('look-after') && !line.back" type="button" class="go" @click="writing = 'replace'">
              {{ t('decisions.replace') }}
            </button>
            <button v-if="may('look-after')" type="button" class="go" @click="writing = 'skip'">{{ t('decisions.skip') }}</button>
          </p>
          <h2 class="was">{{ t('decisions.said') }}</h2>
          <Trail :trail="spoken" :by-hand="!line.route" />
          <p class="small acts">
            <span>{{ t('decisions.everything') }}</span>
            <a class="go" :href="`/api/decisions/${id}/trail.csv`" download>{{ t('decisions.asCSV') }}</a>
            <a class="go" :href="`/api/decisions/${id}/trail.pdf`" download>{{ t('decisions.asPDF') }}</a>
          </p>
        </section>
        <section>
          <h2>
            {{ line.route ? t('decisions.theRoute', { name: line.route }) : t('decisions.byHand') }}
            <RouterLink v-if="line.routeId" class="go small" :to="`/routes/${line.routeId}`">
              {{ t('decisions.edition', { n: line.edition }) }}
            </RouterLink>
          </h2>
          <RouteSentences :definition="page.definition" :names="names" :at="line.endedAt ? undefined : line.at" />
        </section>
      </div>
    </template>
  </article>
</template>

<style scoped>
.one {
  padding: 18px 32px var(--tb-s6);
  overflow-y: auto;
  min-width: 0;
}
header {
  display: flex;
  justify-content: space-between;
  align-items: flex-end;
  gap: var(--tb-s4);
}
header p {
  margin: 0;
}
h1 {
  overflow-wrap: anywhere;
}
.two {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: var(--tb-s5) 40px;
}
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  gap: var(--tb-s3);
}
.was {
  margin-top: var(--tb-s5);
}
.counts {
  margin-bottom: var(--tb-s2);
  display: flex;
  gap: var(--tb-s2);
}
.letter {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
.more {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s2) var(--tb-s4);
  margin-top: var(--tb-s3);
  align-items: center;
}
@media (max-width: 900px) {
  .one {
    padding: 14px 16px var(--tb-s6);
  }
  header {
    display: block;
  }
  header .acts {
    flex-wrap: wrap;
    margin-top: var(--tb-s2);
  }
  .two {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
