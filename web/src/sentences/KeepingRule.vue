<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../api/client'
import { useAct } from '../app/act'
import SentenceSelect from '../parts/SentenceSelect.vue'
import { useKeeping } from '../queries/keeping'
import KeepingWords from './KeepingWords.vue'
import { useSaid } from './said'

/** Which versions are kept, in the practice or in a dossier. What a changed rule would remove is said before it holds. */
type Rule = Schemas['KeepRule']
const props = defineProps<{ dossier?: string }>()
const { t } = useI18n()
const said = useSaid()
const { act, busy, wrong } = useAct()
const refused = ref('')
const { data: keeping } = useKeeping(() => props.dossier)
/** The rule that is being written; with own false a dossier goes back to what the practice says. */
const written = shallowRef<{ rule: Rule; own: boolean }>()
const would = ref<Schemas['Superfluous']>()
const shown = computed(() => written.value?.rule ?? keeping.value?.rule)
/** A select holds words; a rule that was set by other means keeps its own number among the choices. */
const among = (usual: number[], now: number) => [...new Set([...usual, now])].sort((a, b) => a - b)
const options = computed(() => ({
  months: among([0, 1, 3, 6, 12, 24, 60], shown.value!.months).map((n) => ({
    value: String(n),
    words: n ? t('keeping.months', { n }, n) : t('keeping.forEver'),
  })),
  then: (['none', 'daily', 'weekly', 'monthly'] as const).map((value) => ({ value, words: t(`keeping.then.${value}`) })),
  last: among([0, 1, 3, 5, 10, 20, 50], shown.value!.last).map((n) => ({
    value: String(n),
    words: n ? t('keeping.last', { n }, n) : t('keeping.noLast'),
  })),
}))

async function write(change: Partial<Rule>, own = true) {
  const rule = { ...shown.value!, ...change }
  written.value = { rule, own }
  would.value = undefined
  refused.value = ''
  try {
    const drafted = await data(api.POST('/keeping/draft', { body: { dossier: props.dossier, rule } }))
    // Meanwhile another word may have been chosen.
    if (written.value?.rule === rule) would.value = drafted
  } catch (e) {
    refused.value = said.problem(e)
  }
}
async function asPractice() {
  await write((await data(api.GET('/keeping', {}))).rule, false)
}
const say = (rule: Rule | undefined) => api.PUT('/keeping', { body: { dossier: props.dossier, rule } })
async function set() {
  const { rule, own } = written.value!
  const was = props.dossier && !keeping.value!.own ? undefined : keeping.value!.rule
  const undo = { do: () => say(was), done: t('keeping.asBefore') }
  if (await act(() => say(own ? rule : undefined), { done: t('keeping.set'), undo })) written.value = undefined
}
</script>

<template>
  <div v-if="keeping && shown" class="keeping">
    <p v-if="keeping.mayChange" class="rule">
      {{ t('keeping.kept') }}
      <SentenceSelect
        :model-value="String(shown.months)"
        :label="t('keeping.howLong')"
        :options="options.months"
        :then="shown.months ? ',' : '.'"
        data-field="months"
        @update:model-value="write({ months: Number($event) })"
      />
      <template v-if="shown.months">
        {{ t('keeping.afterwards') }}
        <SentenceSelect
          :model-value="shown.then"
          :label="t('keeping.afterwards')"
          :options="options.then"
          then=","
          data-field="then"
          @update:model-value="write({ then: $event })"
        />
        {{ ' ' }}
        <SentenceSelect
          :model-value="String(shown.last)"
          :label="t('keeping.lastOnes')"
          :options="options.last"
          then="."
          data-field="last"
          @update:model-value="write({ last: Number($event) })"
        />
        {{ t('keeping.alwaysWhole') }}
      </template>
    </p>
    <p v-else class="rule">
      {{ t('keeping.here') }}
      <KeepingWords :rule="keeping.rule" />
    </p>
    <div v-if="written" class="proposed" role="status">
      <p v-if="wrong || refused" class="t-caution">{{ wrong || refused }}</p>
      <p v-else-if="!would" class="quiet">{{ t('keeping.looking') }}</p>
      <p v-else-if="!would.versions">{{ t('keeping.nothingGoes') }}</p>
      <p v-else>
        <b>
          {{
            t('keeping.goes', {
              versions: t('keeping.versions', { n: would.versions }, would.versions),
              documents: t('keeping.documents', { n: would.documents }, would.documents),
              size: said.size(would.bytes),
            })
          }}
        </b>
        {{ ' ' }}
        <template v-if="would.more">{{ t('keeping.andMore') }}{{ ' ' }}</template>
        {{ t('keeping.grace', { n: keeping.days }, keeping.days) }}
      </p>
      <div class="acts">
        <button type="button" class="btn btn-primary btn-small" :disabled="busy || !would" @click="set">{{ t('keeping.do') }}</button>
        <button type="button" class="btn btn-text btn-small" @click="written = undefined">{{ t('common.discard') }}</button>
      </div>
    </div>
    <p v-else-if="dossier && keeping.mayChange" class="small quiet">
      {{ t(keeping.own ? 'keeping.own' : 'keeping.practices') }}
      <button v-if="keeping.own" type="button" class="go" @click="asPractice">{{ t('keeping.asPractice') }}</button>
    </p>
  </div>
</template>

<style scoped>
.rule {
  margin: 0;
  font-family: 'Literata Variable', Literata, Charter, serif;
  font-size: var(--tb-read);
  line-height: 1.6;
}
.rule :deep(.with-comma) {
  white-space: nowrap;
}
.proposed {
  border: 1px solid var(--tb-action);
  border-radius: 3px;
  padding: var(--tb-s2) var(--tb-s3);
  margin: var(--tb-s2) 0;
}
.proposed p {
  margin: 0 0 var(--tb-s2);
}
</style>
