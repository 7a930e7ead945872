<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { useSession } from '../../app/session'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useAbsences } from '../../queries/decisions'
import { useDirectory } from '../../queries/people'
import { useSaid } from '../../sentences/said'

/** When one is away, and who stands in: what is asked meanwhile goes to them. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { data: absences } = useAbsences()
const { data: directory } = useDirectory()
const others = computed(() =>
  (directory.value?.accounts ?? [])
    .filter((a) => !a.ended && !a.person.outside && a.person.id !== store.session?.person.id)
    .map((a) => a.person),
)
const from = ref('')
const to = ref('')
const substitute = ref('')
const { act, busy, wrong } = useAct()
async function add() {
  const body = { from: from.value, to: to.value, substitute: substitute.value || undefined }
  if (await act(() => api.POST('/me/absences', { body }), { done: t('decisions.absence.added') }))
    from.value = to.value = substitute.value = ''
}
const end = (id: string) => act(() => api.DELETE('/me/absences/{id}', { params: { path: { id } } }), { done: t('decisions.absence.ended') })
</script>

<template>
  <section id="away">
    <h2>{{ t('decisions.absence.title') }}</h2>
    <ul v-if="absences?.length">
      <li v-for="a in absences" :key="a.id">
        {{ t('decisions.absence.line', { from: said.day(a.from), to: said.day(a.to) }) }},
        {{ a.substitute ? t('decisions.absence.with', { name: a.substitute.name }) : t('decisions.absence.without') }}
        <button type="button" class="go small" :disabled="busy" @click="end(a.id)">{{ t('decisions.absence.end') }}</button>
      </li>
    </ul>
    <p v-else class="quiet small">{{ t('decisions.absence.none') }}</p>
    <form class="terms" @submit.prevent="add">
      {{ t('decisions.absence.from') }}
      <input v-model="from" type="date" class="form-control" :aria-label="t('decisions.absence.from')" required />
      {{ t('decisions.absence.to') }}
      <input v-model="to" type="date" class="form-control" :aria-label="t('decisions.absence.to')" :min="from" required />
      {{ t('decisions.absence.and') }}
      <SentenceSelect
        v-model="substitute"
        :label="t('decisions.absence.standsIn')"
        :options="[{ value: '', words: t('decisions.absence.nobody') }, ...others.map((p) => ({ value: p.id as string, words: p.name }))]"
      />
      {{ ' ' }}{{ t('decisions.absence.standsIn') }}.
      <button type="submit" class="btn btn-plain btn-small" :disabled="busy || !from || !to">{{ t('decisions.absence.add') }}</button>
    </form>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
input {
  display: inline-block;
  width: auto;
}
ul {
  list-style: none;
  padding: 0;
}
</style>
