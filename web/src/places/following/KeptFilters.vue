<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import KeptNames from '../../parts/KeptNames.vue'
import { useFilters } from '../../queries/following'

/** Filters of the activity that I keep under a name. */
const props = defineProps<{ filter: Schemas['ActivityFilter']; usual: boolean }>()
const emit = defineEmits<{ choose: [filter: Schemas['ActivityFilter']] }>()
const { t } = useI18n()
const { data: kept } = useFilters()
const { act, busy, wrong } = useAct()
const names = ref<InstanceType<typeof KeptNames>>()
const same = (f: Schemas['ActivityFilter']) =>
  JSON.stringify(
    Object.entries(f)
      .filter(([, v]) => v)
      .sort(),
  )
const current = computed(() => kept.value?.find((f) => same(f.filter) === same(props.filter))?.id)
const one = (id: string) => kept.value!.find((f) => f.id === id)!

async function keep(name: string) {
  const done = () => t('following.filterKept', { name: name.trim() })
  if (await act(() => api.POST('/activity/filters', { body: { name, filter: props.filter } }), { done })) names.value?.done()
}
const forget = (f: Schemas['KeptFilter']) =>
  act(() => api.DELETE('/activity/filters/{id}', { params: { path: { id: f.id } } }), {
    done: t('following.filterForgotten', { name: f.name }),
    undo: {
      do: () => api.POST('/activity/filters', { body: { name: f.name, filter: f.filter } }),
      done: t('following.filterKept', { name: f.name }),
    },
  })
</script>

<template>
  <KeptNames
    ref="names"
    :kept="kept ?? []"
    :current="current"
    :may="!usual"
    :busy="busy"
    :wrong="wrong"
    :words="{
      list: t('following.kept'),
      keepThis: t('following.keepThis'),
      name: t('following.nameIt'),
      keep: t('following.keep'),
      discard: t('common.discard'),
      forget: (name) => t('following.forget', { name }),
    }"
    @choose="emit('choose', one($event).filter)"
    @forget="forget(one($event))"
    @keep="keep"
  />
</template>
