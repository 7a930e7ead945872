<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useQueryClient } from '@tanstack/vue-query'
import { api, data as answer } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { formKeys, useSentToMany } from '../../queries/signing'
import { useSaid } from '../../sentences/said'

/** A form that was sent to many: how far it is, and what came of each. */
const props = defineProps<{ id: string }>()
const { t, te } = useI18n()
const said = useSaid()
const queries = useQueryClient()
const { data, error } = useSentToMany(() => props.id)
const { act, busy, wrong } = useAct()
const all = computed(() => (data.value ? data.value.waiting + data.value.sent + data.value.refused : 0))
const why = (code: string) => (te(`problem.${code}`) ? t(`problem.${code}`) : code)
async function again() {
  if (await act(() => answer(api.POST('/signing-batches/{id}/again', { params: { path: { id: props.id } } }))))
    await queries.invalidateQueries({ queryKey: formKeys.many(props.id) })
}
</script>

<template>
  <main id="content" class="plain many">
    <p class="small">
      <RouterLink class="go" to="/signing">{{ t('signing.title') }}</RouterLink>
    </p>
    <Failed v-if="error && !data" :error="error" />
    <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <h1>{{ t('signforms.manyTitle', { form: data.form }, all) }}</h1>
      <p class="terms" role="status">
        {{ said.when(data.sentAt) }}: {{ t('signforms.manySent', data.sent) }}
        <template v-if="data.waiting">, {{ t('signforms.manyWaiting', data.waiting) }}</template>
        <template v-if="data.refused">
          ,
          <b class="t-caution">{{ t('signforms.manyRefused', data.refused) }}</b>
        </template>
        .
        <button v-if="data.refused && !data.waiting" type="button" class="btn btn-plain btn-small" :disabled="busy" @click="again">
          {{ t('signforms.again') }}
        </button>
      </p>
      <progress v-if="data.waiting" :value="all - data.waiting" :max="all" :aria-label="t('signforms.manySent', data.sent)"></progress>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <ol>
        <li v-for="l in data.lines" :key="l.row" :data-line="l.row">
          <span class="no quiet">{{ l.row + 1 }}</span>
          <span>{{ said.list(l.names) || '–' }}</span>
          <RouterLink v-if="l.signing" :to="`/signing/${l.signing}`">{{ t('signing.toRequest') }}</RouterLink>
          <span v-else-if="l.refused" class="t-caution">{{ why(l.refused) }}</span>
          <span v-else class="quiet">{{ t('signforms.waits') }}</span>
        </li>
      </ol>
    </template>
  </main>
</template>

<style scoped>
.many ol {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--tb-ink);
}
.many li {
  display: grid;
  grid-template-columns: 40px minmax(0, 1fr) minmax(0, 1.4fr);
  gap: var(--tb-s3);
  padding: 5px 0;
  border-bottom: 1px solid var(--tb-line);
}
progress {
  width: 100%;
  accent-color: var(--tb-action);
}
</style>
