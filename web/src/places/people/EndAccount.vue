<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import { api, Refusal, type Schemas } from '../../api/client'
import { tell } from '../../app/notices'
import { useSaid } from '../../sentences/said'

/** The end of an account, written under its row; what only that person manages is handed over. */
const props = defineProps<{ account: Schemas['Account']; successors: Schemas['Account'][] }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const said = useSaid()
const queries = useQueryClient()
const successor = ref('')
const needs = ref('')
const wrong = ref('')

async function end() {
  wrong.value = ''
  try {
    await api.POST('/people/{id}/end', {
      params: { path: { id: props.account.person.id } },
      body: { successor: successor.value || undefined },
    })
    tell(t('people.ended_', { name: props.account.person.name }))
    emit('done')
    await queries.invalidateQueries()
  } catch (e) {
    if (e instanceof Refusal && e.code === 'needs-successor') needs.value = e.message
    else wrong.value = said.problem(e)
  }
}
</script>

<template>
  <div class="written">
    <div>
      <p class="terms">
        {{ t('people.endSentence', { name: account.person.name }) }}
        <I18nT v-if="needs" keypath="people.takesOver" tag="span" scope="global">
          <template #successor>
            <select v-model="successor" class="w choice" :aria-label="t('people.successor')">
              <option value="">…</option>
              <option v-for="s in successors" :key="s.person.id" :value="s.person.id">{{ s.person.name }}</option>
            </select>
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
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    </div>
    <div class="acts">
      <button type="button" class="btn btn-primary btn-small" :disabled="!!needs && !successor" @click="end">
        {{ t('people.endAll') }}
      </button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('done')">{{ t('common.discard') }}</button>
    </div>
  </div>
</template>

<style scoped>
.written {
  display: flex;
  justify-content: space-between;
  gap: 20px;
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 10px 12px;
}
</style>
