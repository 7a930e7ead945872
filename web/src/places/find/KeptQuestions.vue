<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import KeptNames from '../../parts/KeptNames.vue'
import { useQuestions, type Question } from '../../queries/find'

/** Questions that I keep under a name; I am told when something new answers one. */
const props = defineProps<{ question: Question }>()
const emit = defineEmits<{ choose: [kept: Schemas['KeptQuestion']] }>()
const { t } = useI18n()
const { data: kept } = useQuestions()
const { act, busy, wrong } = useAct()
const names = ref<InstanceType<typeof KeptNames>>()
const same = (q: Question) =>
  JSON.stringify(
    Object.entries(q)
      .filter(([, v]) => v && !(Array.isArray(v) && !v.length))
      .sort(),
  )
const current = computed(() => kept.value?.find((k) => same(k.question) === same(props.question))?.id)
const one = (id: string) => kept.value!.find((k) => k.id === id)!

async function keep(name: string) {
  const done = () => t('find.questionKept', { name: name.trim() })
  if (await act(() => api.POST('/questions', { body: { name, question: props.question } }), { done })) names.value?.done()
}
const forget = (k: Schemas['KeptQuestion']) =>
  act(() => api.DELETE('/questions/{id}', { params: { path: { id: k.id } } }), {
    done: t('find.questionForgotten', { name: k.name }),
    undo: {
      do: () => api.POST('/questions', { body: { name: k.name, question: k.question } }),
      done: t('find.questionKept', { name: k.name }),
    },
  })
</script>

<template>
  <KeptNames
    ref="names"
    :kept="kept ?? []"
    :current="current"
    :may="question.q !== ''"
    :busy="busy"
    :wrong="wrong"
    :words="{
      list: t('find.kept'),
      keepThis: t('find.keepThis'),
      name: t('find.nameIt'),
      keep: t('following.keep'),
      discard: t('common.discard'),
      forget: (name) => t('following.forget', { name }),
    }"
    @choose="emit('choose', one($event))"
    @forget="forget(one($event))"
    @keep="keep"
  >
    <template #keep>
      <button type="button" class="go" @click="names?.ask(question.q.slice(0, 60))">{{ t('find.keepThis') }}</button>
    </template>
  </KeptNames>
</template>
