<script setup lang="ts">
import { computed, ref } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import { api, Refusal, type Schemas } from '../../api/client'
import { tell } from '../../app/toasts'
import { useAct } from '../../app/act'
import Confirm from '../../parts/Confirm.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'

/** The end of an account, written under its row; what only that person manages is handed over. */
const props = defineProps<{ account: Schemas['Account']; successors: Schemas['Account'][] }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const { act, busy, wrong } = useAct()
const successor = ref('')
const needs = ref('')
const ended = ref(false)

async function end() {
  const { id, name } = props.account.person
  const done = await act(async () => {
    try {
      await api.POST('/people/{id}/end', { params: { path: { id } }, body: { successor: successor.value || undefined } })
    } catch (e) {
      // Not a refusal to be told of, but a question: who takes over.
      if (!(e instanceof Refusal) || e.code !== 'needs-successor') throw e
      needs.value = e.message
      return
    }
    tell(t('people.ended_', { name }))
    ended.value = true
  })
  if (done && ended.value) emit('done')
}
const options = computed(() => [{ value: '', words: '…' }, ...props.successors.map((s) => ({ value: s.person.id, words: s.person.name }))])
</script>

<template>
  <Confirm
    :act="t('people.endAll')"
    :discard="t('common.discard')"
    :busy="busy"
    :wrong="wrong"
    :unready="!!needs && !successor"
    @do="end"
    @discard="$emit('done')"
  >
    <p class="terms">
      {{ t('people.endSentence', { name: account.person.name }) }}
      <I18nT v-if="needs" keypath="people.takesOver" tag="span" scope="global">
        <template #successor>
          <SentenceSelect v-model="successor" :label="t('people.successor')" :options="options" />
        </template>
      </I18nT>
    </p>
    <p class="small">
      {{
        needs ||
        t('people.endMeans', {
          dossiers: t('people.dossiers', { n: account.dossiers }, account.dossiers),
          documents: t('common.documents', { n: account.documents }, account.documents),
        })
      }}
    </p>
  </Confirm>
</template>
