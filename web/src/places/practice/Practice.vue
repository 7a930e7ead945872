<script setup lang="ts">
import { useDirectory } from '../../queries/people'
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import Failed from '../../app/Failed.vue'

/** What holds for everybody in the practice; administrators change it. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { act, wrong } = useAct()
const administers = computed(() => ['administrator', 'proprietor'].includes(store.session?.standing ?? ''))
const { data: directory, error, refetch } = useDirectory()
const rules = computed(() => directory.value?.rules)
const switches = ['colleaguesMakeDossiers', 'guestsByCode', 'secondFactorRequired'] as const
const gigabyte = 1_000_000_000
const room = ref<number | ''>('')
watch(
  () => rules.value?.roomBytes,
  (bytes) => (room.value = bytes ? bytes / gigabyte : ''),
  { immediate: true },
)

const set = (change: Partial<Schemas['Rules']>, done: string) =>
  act(() => api.PUT('/practice/rules', { body: { ...rules.value!, ...change } }), { done })
const days = ref(0)
watch(
  () => rules.value?.longestLinkDays,
  (d) => (days.value = d ?? 0),
  { immediate: true },
)
const domains = reactive({ shut: '', only: '' })
watch(
  () => rules.value?.outward,
  (o) => o && Object.assign(domains, { shut: o.shut.join(', '), only: o.only.join(', ') }),
  { immediate: true },
)
const setOutward = (change: Partial<Schemas['OutwardRules']>) =>
  set({ outward: { ...rules.value!.outward!, ...change } }, t('people.ruleSet'))
const pattern = ref('')
const expression = ref(false)
async function addPattern() {
  if (
    await set({ patterns: [...(rules.value?.patterns ?? []), { text: pattern.value, expression: expression.value }] }, t('people.ruleSet'))
  )
    pattern.value = ''
}
const proprietor = computed(() => store.session?.standing === 'proprietor')
const removing = ref(false)
const name = ref('')
const password = ref('')
async function remove() {
  if (
    await act(() => api.POST('/practice/removal', { body: { name: name.value, password: password.value } }), {
      done: t('practice.removalSet'),
    })
  ) {
    removing.value = false
    await store.refresh()
  }
  password.value = ''
}
async function keep() {
  await act(() => api.DELETE('/practice/removal'), { done: t('practice.kept') })
  await store.refresh()
}
const setRoom = (bytes?: number) => set({ roomBytes: bytes }, t('practice.roomSet'))
</script>

<template>
  <main id="content" class="plain practice">
    <header>
      <div>
        <h1>{{ t('practice.title') }}</h1>
        <p class="terms">{{ administers ? t('practice.summary') : t('practice.away') }}</p>
      </div>
    </header>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <Failed v-if="error && !directory" :error="error" @again="refetch()" />
    <div v-else-if="directory && rules" class="parts">
      <section>
        <h2>{{ t('people.rules') }}</h2>
        <ul>
          <li v-for="r in switches" :key="r">
            <label>
              <input
                type="checkbox"
                class="form-check-input"
                :checked="rules[r]"
                :disabled="!administers"
                @change="set({ [r]: !rules[r] }, t('people.ruleSet'))"
              />
              {{ t(`people.rule.${r}`) }}
            </label>
          </li>
        </ul>
      </section>
      <section>
        <h2>{{ t('practice.outward') }}</h2>
        <form class="acts" @submit.prevent="set({ longestLinkDays: days }, t('people.ruleSet'))">
          <label for="days">{{ t('practice.longest') }}</label>
          <input id="days" v-model.number="days" class="form-control" type="number" min="1" max="3650" :disabled="!administers" required />
          <span>{{ t('practice.days') }}</span>
          <button v-if="administers" type="submit" class="btn btn-plain btn-small">{{ t('practice.set') }}</button>
        </form>
        <template v-if="rules.outward">
          <h3>{{ t('practice.required') }}</h3>
          <ul>
            <li v-for="r in ['nothing', 'either', 'password', 'identity'] as const" :key="r">
              <label>
                <input
                  type="radio"
                  name="required"
                  class="form-check-input"
                  :checked="rules.outward.required === r"
                  :disabled="!administers"
                  @change="setOutward({ required: r })"
                />
                {{ t(`practice.demand.${r}`) }}
              </label>
            </li>
          </ul>
          <h3>{{ t('practice.kinds') }}</h3>
          <ul>
            <li v-for="k in ['hand-out', 'working', 'intake'] as const" :key="k">
              <label>
                <input
                  type="checkbox"
                  class="form-check-input"
                  :checked="rules.outward.kinds.includes(k)"
                  :disabled="!administers"
                  @change="
                    setOutward({
                      kinds: rules.outward.kinds.includes(k) ? rules.outward.kinds.filter((x) => x !== k) : [...rules.outward.kinds, k],
                    })
                  "
                />
                {{ t(`practice.kind.${k}`) }}
              </label>
            </li>
          </ul>
          <form
            v-for="d in ['shut', 'only'] as const"
            :key="d"
            class="acts"
            @submit.prevent="setOutward({ [d]: domains[d].split(/[\s,;]+/).filter(Boolean) })"
          >
            <label :for="`domains-${d}`">{{ t(`practice.domains.${d}`) }}</label>
            <input
              :id="`domains-${d}`"
              v-model="domains[d]"
              class="form-control word"
              :placeholder="t('practice.noDomains')"
              :disabled="!administers"
              autocomplete="off"
              spellcheck="false"
            />
            <button v-if="administers" type="submit" class="btn btn-plain btn-small">{{ t('practice.set') }}</button>
          </form>
        </template>
        <h3>{{ t('practice.sensitive') }}</h3>
        <p class="small quiet">{{ t('practice.sensitiveHint') }}</p>
        <ul>
          <li v-for="s in ['off', 'warn', 'forbid'] as const" :key="s">
            <label>
              <input
                type="radio"
                name="sensitive"
                class="form-check-input"
                :checked="rules.sensitive === s"
                :disabled="!administers"
                @change="set({ sensitive: s }, t('people.ruleSet'))"
              />
              {{ t(`practice.does.${s}`) }}
            </label>
          </li>
        </ul>
        <template v-if="rules.sensitive !== 'off'">
          <ul v-if="rules.patterns.length" class="own">
            <li v-for="(p, i) in rules.patterns" :key="i">
              <span>
                <b>{{ p.name || p.text }}</b>
                {{ ' ' }}
                <span v-if="p.expression" class="no quiet">{{ p.text }}</span>
              </span>
              <button
                v-if="administers"
                type="button"
                class="go small"
                @click="set({ patterns: rules.patterns.filter((_, n) => n !== i) }, t('people.ruleSet'))"
              >
                {{ t('me.remove') }}
              </button>
            </li>
          </ul>
          <form v-if="administers" class="acts" @submit.prevent="addPattern">
            <label for="pattern">{{ t('practice.own') }}</label>
            <input id="pattern" v-model="pattern" class="form-control word" maxlength="500" required />
            <label class="small">
              <input v-model="expression" type="checkbox" class="form-check-input" />
              {{ t('practice.expression') }}
            </label>
            <button type="submit" class="btn btn-plain btn-small">{{ t('practice.addOwn') }}</button>
          </form>
        </template>
      </section>
      <section v-if="directory.room">
        <h2>{{ t('practice.room') }}</h2>
        <p class="terms">
          {{ t('practice.roomSentence') }}
          <b class="with-stop">
            {{ rules.roomBytes ? `${t('practice.roomLimit')} ${said.size(rules.roomBytes)}` : t('practice.roomNone') }}
          </b>
        </p>
        <div
          v-if="rules.roomBytes"
          class="bar"
          role="img"
          :aria-label="t('practice.roomUsed', { used: said.size(directory.room.used), announced: said.size(directory.room.announced) })"
        >
          <i :style="{ width: `${Math.min(100, (directory.room.used / rules.roomBytes) * 100)}%` }"></i>
        </div>
        <p class="small quiet">
          {{ t('practice.roomUsed', { used: said.size(directory.room.used), announced: said.size(directory.room.announced) }) }}
        </p>
        <form class="acts" @submit.prevent="room && setRoom(Math.round(room * gigabyte))">
          <label for="room">{{ t('practice.roomLimit') }}</label>
          <input id="room" v-model.number="room" class="form-control" type="number" min="0.001" step="any" required />
          <span>{{ t('practice.unit') }}</span>
          <button type="submit" class="btn btn-plain btn-small">{{ t('practice.set') }}</button>
          <button v-if="rules.roomBytes" type="button" class="btn btn-text btn-small" @click="setRoom()">
            {{ t('practice.noLimit') }}
          </button>
        </form>
      </section>
      <section v-if="proprietor">
        <h2>{{ t('practice.removal') }}</h2>
        <template v-if="store.practice?.removalAt">
          <p class="terms">
            <b class="t-caution">{{ t('practice.removalAt', { when: said.full(store.practice.removalAt) }) }}</b>
          </p>
          <button type="button" class="btn btn-primary btn-small" @click="keep">{{ t('practice.keep') }}</button>
        </template>
        <form v-else-if="removing" class="written" @submit.prevent="remove">
          <p class="terms">{{ t('practice.removalSentence', { name: store.practice?.name }) }}</p>
          <label for="removal-name">{{ t('practice.removalName') }}</label>
          <input id="removal-name" v-model="name" class="form-control wide" required autofocus />
          <label for="removal-password">{{ t('me.old') }}</label>
          <input
            id="removal-password"
            v-model="password"
            class="form-control wide"
            type="password"
            autocomplete="current-password"
            required
          />
          <div class="acts">
            <button type="submit" class="btn btn-primary btn-small">{{ t('practice.remove') }}</button>
            <button type="button" class="btn btn-text btn-small" @click="removing = false">{{ t('common.discard') }}</button>
          </div>
        </form>
        <template v-else>
          <p class="small quiet">{{ t('practice.removalHint') }}</p>
          <button type="button" class="btn btn-plain btn-small" @click="removing = true">{{ t('practice.removeMore') }}</button>
        </template>
      </section>
    </div>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </main>
</template>

<style scoped>
.parts {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0 48px;
  margin-top: var(--tb-s4);
}
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
}
li {
  padding: var(--tb-s2) 0;
  border-bottom: 1px solid var(--tb-line);
}
li label {
  display: grid;
  grid-template-columns: 24px 1fr;
}
.form-control {
  width: 110px;
}
.form-control.wide {
  width: 100%;
  max-width: 340px;
}
.written {
  display: grid;
  gap: 6px;
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 12px 14px;
}
section:nth-child(n + 3) {
  margin-top: var(--tb-s6);
}
h3 {
  margin: var(--tb-s4) 0 var(--tb-s1);
}
.form-control.word {
  width: 190px;
}
.own {
  margin-top: var(--tb-s2);
}
.own li {
  display: flex;
  justify-content: space-between;
}
.own .go {
  color: var(--tb-action);
}
.terms {
  margin: 10px 0 8px;
}
.bar {
  height: 6px;
  background: var(--tb-line);
  margin-bottom: 6px;
}
.bar i {
  display: block;
  height: 6px;
  background: var(--tb-action);
}
form {
  margin-top: 10px;
  gap: var(--tb-s2);
}
@media (max-width: 900px) {
  .parts {
    display: block;
  }
  section + section {
    margin-top: var(--tb-s6);
  }
}
</style>
