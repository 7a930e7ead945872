<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import SealMark from './SealMark.vue'

/** How the practice's log stands, what the last check found, and whom checkpoints are sent. */
const props = defineProps<{ log: Schemas['EvidenceLog'] }>()
const { t } = useI18n()
const said = useSaid()
const { act, busy, wrong } = useAct()
const check = computed(() => props.log.check)
const amiss = computed(() => {
  const c = check.value
  return c ? c.altered + c.removed + c.putIn + c.moved + c.log.length : 0
})
const heading = computed(() => (!check.value ? 'unchecked' : amiss.value ? 'differs' : 'agrees'))
const counts = computed(() => {
  const c = check.value
  return c ? (['altered', 'removed', 'putIn', 'moved'] as const).map((k) => ({ k, n: c[k] })) : []
})
const naming = ref(false)
const emails = ref('')
function name() {
  emails.value = props.log.witnesses.join(', ')
  naming.value = true
}
async function keep() {
  const all = emails.value.split(/[\s,;]+/).filter(Boolean)
  if (await act(() => api.PUT('/evidence/witnesses', { body: { emails: all } }), { done: t('evidence.witnessesNamed') }))
    naming.value = false
}
const seal = () => act(() => api.POST('/evidence/seal'), { done: t('evidence.sealedNow') })
const askForCheck = () => act(() => api.POST('/evidence/check'), { done: t('evidence.checking') })
</script>

<template>
  <section class="state" :class="{ amiss }">
    <h2>
      <SealMark :done="heading === 'agrees'" />
      {{ t(`evidence.${heading}`) }}
    </h2>
    <p class="small">
      {{ t('evidence.size', { n: said.count(log.size) }, log.size) }}
      {{ ' ' }}
      <template v-if="check">{{ t('evidence.checkedAt', { when: said.when(check.at), n: said.count(check.size) }) }}</template>
      {{ ' ' }}
      <template v-if="log.waiting">
        {{ t('evidence.waits', { n: said.count(log.waiting) }, log.waiting) }}
      </template>
    </p>
    <dl v-if="check" class="counts">
      <div v-for="c in counts" :key="c.k">
        <dt>{{ t(`evidence.found.${c.k}`) }}</dt>
        <dd :class="{ bad: c.n }">{{ c.n ? said.count(c.n) : t('evidence.noneOf') }}</dd>
      </div>
    </dl>
    <p v-if="check?.places.length" class="small bad">{{ t('evidence.atPlaces', { places: check.places.slice(0, 12).join(', ') }) }}</p>
    <p v-for="l in check?.log" :key="l" class="small bad" lang="en">{{ l }}</p>
    <div class="acts">
      <button v-if="log.waiting" type="button" class="btn btn-plain btn-small" :disabled="busy" @click="seal">
        {{ t('evidence.sealNow') }}
      </button>
      <button v-if="log.mayAdminister" type="button" class="btn btn-plain btn-small" :disabled="busy" @click="askForCheck">
        {{ t('evidence.checkNow') }}
      </button>
    </div>
    <template v-if="log.mayAdminister">
      <p v-if="!naming" class="small witnesses">
        {{ log.witnesses.length ? t('evidence.sentTo', { who: log.witnesses.join(', ') }) : t('evidence.sentToNobody') }}
        <button type="button" class="go" @click="name">{{ t('evidence.name') }}</button>
      </p>
      <form v-else class="witnesses" @submit.prevent="keep">
        <label class="small" for="witnesses">{{ t('evidence.nameHint') }}</label>
        <input id="witnesses" v-model="emails" class="form-control" maxlength="1000" autocomplete="off" />
        <div class="acts">
          <button class="btn btn-primary btn-small" :disabled="busy">{{ t('evidence.keep') }}</button>
          <button type="button" class="btn btn-text btn-small" @click="naming = false">{{ t('common.discard') }}</button>
        </div>
      </form>
    </template>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
h2 {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  font-size: var(--tb-large);
}
.counts {
  display: grid;
  grid-template-columns: repeat(4, 1fr);
  border: solid var(--tb-line);
  border-width: 1px 0;
  margin: var(--tb-s2) 0;
}
.counts div {
  display: flex;
  flex-direction: column-reverse;
  padding: 6px;
  border-left: 1px solid var(--tb-line);
  font-size: var(--tb-small);
}
.counts div:first-child {
  border-left: 0;
  padding-left: 0;
}
.counts dt {
  font-weight: 400;
}
.counts dd {
  margin: 0;
  font-weight: 600;
}
.bad {
  color: var(--tb-caution-text);
}
.witnesses {
  margin-top: var(--tb-s2);
}
</style>
