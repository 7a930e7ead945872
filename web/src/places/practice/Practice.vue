<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDirectory } from '../../queries/people'
import KeepingRule from '../../sentences/KeepingRule.vue'
import { useSaid } from '../../sentences/said'
import NamedTerms from './NamedTerms.vue'
import OwnWords from './OwnWords.vue'
import Removal from './Removal.vue'
import WorkingTime from './WorkingTime.vue'
import WordField from '../../parts/WordField.vue'

/** What holds for everybody, as numbered sentences whose words are changed where they stand. */
type Rules = Schemas['Rules']
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { act, wrong } = useAct()
const administers = computed(() => ['administrator', 'proprietor'].includes(store.session?.standing ?? ''))
const proprietor = computed(() => store.session?.standing === 'proprietor')
const { data: directory, error, refetch } = useDirectory()
const rules = computed(() => directory.value?.rules)

const say = (to: Rules) => api.PUT('/practice/rules', { body: to })
function set(change: Partial<Rules>): Promise<boolean> {
  const was = rules.value!
  return act(() => say({ ...was, ...change }), { done: t('people.ruleSet'), undo: { do: () => say(was), done: t('practice.asBefore') } })
}
const setOutward = (change: Partial<Schemas['OutwardRules']>) => set({ outward: { ...rules.value!.outward!, ...change } })
const setDomains = (which: 'shut' | 'only' | 'sealedFor', typed: string) => setOutward({ [which]: typed.split(/[\s,;]+/).filter(Boolean) })
/** A number that is none is refused by the server, at the word. */
const setDays = (typed: string) => set({ longestLinkDays: Math.trunc(Number(typed)) || 0 })

const setKeeping = (typed: string) => set({ keepingDays: Math.trunc(Number(typed)) || 0 })

const gigabyte = 1_000_000_000
type Limit = 'storageBytes' | 'dossierBytes' | 'personBytes'
const limit = (l: Limit) => (rules.value?.[l] ? String(rules.value[l] / gigabyte) : '')
/** Without a number there is no limit. */
const bytesOf = (typed: string) => (typed ? Math.round(Number(typed.replace(',', '.')) * gigabyte) || 0 : undefined)
const setLimit = (l: Limit, typed: string) => set({ [l]: bytesOf(typed) })

/** The rules for accounts, each by its words. */
const ofAccounts = [
  ['make', 'colleaguesMakeDossiers'],
  ['code', 'guestsByCode'],
  ['factor', 'secondFactorRequired'],
] as const
const linkKinds = ['hand-out', 'working', 'intake', 'fill', 'transfer', 'address'] as const
const yesNo = (key: string) => [true, false].map((value) => ({ value, words: t(`practice.${key}.${value ? 'yes' : 'no'}`) }))
const words = computed(() => ({
  demand: (['nothing', 'either', 'password', 'identity'] as const).map((value) => ({ value, words: t(`practice.demand.${value}`) })),
  kind: yesNo('allowed'),
  does: (['off', 'warn', 'forbid'] as const).map((value) => ({ value, words: t(`practice.does.${value}`) })),
}))
function allow(kind: (typeof linkKinds)[number], yes: boolean) {
  const kinds = rules.value!.outward!.kinds.filter((k) => k !== kind)
  void setOutward({ kinds: yes ? [...kinds, kind] : kinds })
}
</script>

<template>
  <main id="content" class="plain practice" :tabindex="administers ? undefined : 0">
    <header>
      <div>
        <h1>{{ t('practice.title') }}</h1>
        <p class="terms">{{ administers ? t('practice.summary') : t('practice.away') }}</p>
        <RouterLink to="/particulars" class="go">{{ t('particulars.practice') }}</RouterLink>
      </div>
    </header>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <Failed v-if="error && !directory" :error="error" @again="refetch()" />
    <fieldset v-else-if="directory && rules" :disabled="!administers">
      <section>
        <h2>
          <span class="no">1</span>
          {{ t('people.rules') }}
        </h2>
        <ol>
          <li v-for="([key, rule], i) in ofAccounts" :key="rule">
            <span class="no">1.{{ i + 1 }}</span>
            <p>
              {{ t(`practice.${key}.who`) }}
              <SentenceSelect
                :model-value="rules[rule]"
                :label="t(`practice.${key}.who`)"
                :options="yesNo(key)"
                then="."
                @update:model-value="set({ [rule]: $event })"
              />
            </p>
          </li>
        </ol>
      </section>
      <section>
        <h2>
          <span class="no">2</span>
          {{ t('practice.outward') }}
        </h2>
        <ol>
          <li>
            <span class="no">2.1</span>
            <p>
              {{ t('practice.longest') }}
              <WordField :label="t('practice.longest')" :value="String(rules.longestLinkDays)" :may="administers" @set="setDays" />
              {{ ' ' }}{{ t('practice.days') }}
            </p>
          </li>
          <template v-if="rules.outward">
            <li>
              <span class="no">2.2</span>
              <p>
                {{ t('practice.required') }}
                <SentenceSelect
                  :model-value="rules.outward.required"
                  :label="t('practice.required')"
                  :options="words.demand"
                  then="."
                  @update:model-value="setOutward({ required: $event })"
                />
              </p>
            </li>
            <li>
              <span class="no">2.3</span>
              <p>
                {{ t('practice.kinds') }}
                <template v-for="(k, i) in linkKinds" :key="k">
                  {{ t(`practice.kind.${k}`) }}
                  <SentenceSelect
                    :model-value="rules.outward.kinds.includes(k)"
                    :label="t(`practice.kind.${k}`)"
                    :options="words.kind"
                    :then="i < linkKinds.length - 1 ? ',' : '.'"
                    @update:model-value="allow(k, $event)"
                  />
                  {{ ' ' }}
                </template>
              </p>
            </li>
            <li>
              <span class="no">2.4</span>
              <p>
                {{ t('practice.domains.shut') }}
                <WordField
                  :label="t('practice.domains.shut')"
                  :value="rules.outward.shut.join(', ')"
                  :placeholder="t('practice.noDomains')"
                  :may="administers"
                  then=","
                  @set="setDomains('shut', $event)"
                />
                {{ t('practice.domains.only') }}
                <WordField
                  :label="t('practice.domains.only')"
                  :value="rules.outward.only.join(', ')"
                  :placeholder="t('practice.anyDomain')"
                  :may="administers"
                  then="."
                  @set="setDomains('only', $event)"
                />
              </p>
            </li>
            <li>
              <span class="no">2.5</span>
              <div>
                <p>
                  {{ t('practice.transferDays') }}
                  <WordField
                    :label="t('practice.transferDays')"
                    :value="rules.outward.transferDays ? String(rules.outward.transferDays) : ''"
                    :placeholder="String(rules.longestLinkDays)"
                    :may="administers"
                    @set="setOutward({ transferDays: $event ? Math.trunc(Number($event)) || 0 : undefined })"
                  />
                  {{ t('practice.transferBytes') }}
                  <WordField
                    :label="t('practice.transferBytes')"
                    :value="rules.outward.transferBytes ? String(rules.outward.transferBytes / gigabyte) : ''"
                    :placeholder="t('practice.anySize')"
                    :may="administers"
                    :then="rules.outward.transferBytes ? undefined : '.'"
                    @set="setOutward({ transferBytes: bytesOf($event) })"
                  />
                  <template v-if="rules.outward.transferBytes">{{ ' ' }}{{ t('practice.unit') }}</template>
                </p>
                <p v-if="rules.outward.kinds.includes('address')">
                  {{ t('practice.deliveriesBytes') }}
                  <WordField
                    :label="t('practice.deliveriesBytes')"
                    :value="rules.outward.deliveriesBytes ? String(rules.outward.deliveriesBytes / gigabyte) : ''"
                    :placeholder="t('practice.deliveriesAny')"
                    :may="administers"
                    @set="setOutward({ deliveriesBytes: bytesOf($event) })"
                  />
                  {{ t(rules.outward.deliveriesBytes ? 'practice.deliveriesUnit' : 'practice.deliveriesAnyRest') }}
                </p>
                <p>
                  {{ t('practice.seals') }}
                  <SentenceSelect
                    :model-value="!rules.outward.sealsForbidden"
                    :label="t('practice.seals')"
                    :options="words.kind"
                    :then="rules.outward.sealsForbidden ? '.' : ','"
                    @update:model-value="setOutward({ sealsForbidden: !$event, ...($event ? {} : { sealedFor: [] }) })"
                  />
                  <template v-if="!rules.outward.sealsForbidden">
                    {{ t('practice.domains.sealedFor') }}
                    <WordField
                      :label="t('practice.domains.sealedFor')"
                      :value="(rules.outward.sealedFor ?? []).join(', ')"
                      :placeholder="t('practice.noDomains')"
                      :may="administers"
                      then="."
                      @set="setDomains('sealedFor', $event)"
                    />
                  </template>
                </p>
              </div>
            </li>
          </template>
          <li>
            <span class="no">2.6</span>
            <div>
              <p>
                {{ t('practice.sensitive') }}
                <SentenceSelect
                  :model-value="rules.sensitive"
                  :label="t('practice.sensitive')"
                  :options="words.does"
                  then="."
                  @update:model-value="set({ sensitive: $event })"
                />
              </p>
              <p class="hint">{{ t('practice.sensitiveHint') }}</p>
              <OwnWords
                v-if="rules.sensitive !== 'off'"
                :patterns="rules.patterns"
                :may="administers"
                :set="(patterns) => set({ patterns })"
              />
            </div>
          </li>
          <li>
            <span class="no">2.7</span>
            <div class="named">
              <p>{{ t('practice.named') }}</p>
              <NamedTerms :all="rules.named ?? []" :may="administers" :set="(named) => set({ named })" />
            </div>
          </li>
        </ol>
      </section>
      <section>
        <h2>
          <span class="no">3</span>
          {{ t('practice.deleted') }}
        </h2>
        <ol>
          <li>
            <span class="no">3.1</span>
            <p>
              {{ t('practice.keeping') }}
              <WordField :label="t('practice.keeping')" :value="String(rules.keepingDays ?? 60)" :may="administers" @set="setKeeping" />
              {{ ' ' }}{{ t('practice.keepingDays') }}
            </p>
          </li>
          <li>
            <span class="no">3.2</span>
            <KeepingRule />
          </li>
          <li>
            <span class="no">3.3</span>
            <p>
              {{ t('practice.sitting') }}
              <WordField
                :label="t('practice.sittingPause')"
                :value="String(rules.sittingMinutes ?? 30)"
                :may="administers"
                @set="set({ sittingMinutes: Math.trunc(Number($event)) || 0 })"
              />
              {{ ' ' }}{{ t('practice.sittingMinutes') }}
            </p>
          </li>
        </ol>
      </section>
      <section v-if="directory.storage">
        <h2>
          <span class="no">4</span>
          {{ t('practice.storage') }}
          <span class="small quiet">
            {{ t('practice.storageUsed', { used: said.size(directory.storage.used), announced: said.size(directory.storage.announced) }) }}
          </span>
        </h2>
        <ol>
          <li v-for="(l, i) in ['storageBytes', 'dossierBytes', 'personBytes'] as const" :key="l">
            <span class="no">4.{{ i + 1 }}</span>
            <div>
              <p>
                {{ t(`practice.limit.${l}`) }}
                <WordField
                  :label="t(`practice.limit.${l}`)"
                  :value="limit(l)"
                  :placeholder="t('practice.noLimit')"
                  :may="administers"
                  :then="limit(l) ? undefined : '.'"
                  @set="setLimit(l, $event)"
                />
                <template v-if="limit(l)">{{ ' ' }}{{ t('practice.unit') }}</template>
              </p>
              <div v-if="l === 'storageBytes' && rules.storageBytes" class="bar" aria-hidden="true">
                <i :style="{ width: `${Math.min(100, (directory.storage.used / rules.storageBytes) * 100)}%` }"></i>
              </div>
            </div>
          </li>
        </ol>
      </section>
      <section>
        <h2>
          <span class="no">5</span>
          {{ t('practice.decisions') }}
        </h2>
        <ol>
          <li>
            <span class="no">5.1</span>
            <div>
              <p>{{ t('practice.works') }}</p>
              <WorkingTime v-if="rules.calendar" :calendar="rules.calendar" :may="administers" :set="(calendar) => set({ calendar })" />
            </div>
          </li>
          <li>
            <span class="no">5.2</span>
            <p>
              {{ t('practice.byMail') }}
              <SentenceSelect
                :model-value="rules.decidesByMail !== false"
                :label="t('practice.byMail')"
                :options="[
                  { value: true, words: t('practice.byMailYes') },
                  { value: false, words: t('practice.byMailNo') },
                ]"
                then="."
                @update:model-value="set({ decidesByMail: $event })"
              />
            </p>
          </li>
          <li>
            <span class="no">5.3</span>
            <p>
              {{ t('practice.consent') }}
              <WordField
                :label="t('practice.consent')"
                :value="rules.signingConsent ?? ''"
                :placeholder="t('signsheet.consent')"
                :may="administers"
                @set="set({ signingConsent: $event })"
              />
            </p>
          </li>
        </ol>
      </section>
      <section v-if="proprietor">
        <h2>
          <span class="no">6</span>
          {{ t('practice.removal') }}
        </h2>
        <Removal />
      </section>
    </fieldset>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>

<style scoped>
fieldset {
  max-width: 860px;
  min-width: 0;
  margin: 0;
  padding: 0;
  border: 0;
}
section {
  margin-top: var(--tb-s5);
}
h2 {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
}
h2 .small {
  margin-left: auto;
  font-weight: 400;
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.no {
  flex: none;
  width: 44px;
  color: var(--tb-quiet);
  font-size: var(--tb-small);
  font-weight: 400;
}
li {
  display: flex;
  align-items: baseline;
  padding: 7px 0;
  border-bottom: 1px solid var(--tb-line);
}
/* What is wider than a narrow page goes onto further lines. */
li > div {
  min-width: 0;
}
li div {
  min-width: 0;
}
li p {
  margin: 0;
  font-family: 'Literata Variable', Literata, Charter, serif;
  font-size: var(--tb-read);
  line-height: 1.6;
}
li p.hint {
  font: inherit;
  font-size: var(--tb-small);
  color: var(--tb-quiet);
}
div.named {
  flex: 1;
}
.bar {
  height: 5px;
  width: 320px;
  max-width: 100%;
  background: var(--tb-line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--tb-ink);
}
</style>
