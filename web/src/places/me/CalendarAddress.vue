<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import { useSaid } from '../../sentences/said'

/** The secret address at which a calendar program reads what ends. It is said once, and can be taken away. */
const { t } = useI18n()
const said = useSaid()
const { act, wrong, busy } = useAct()
const address = ref('')
const { data: calendar } = useQuery({
  queryKey: ['calendar'],
  queryFn: async () => (await api.GET('/calendar').catch(() => undefined))?.data ?? null,
  retry: false,
})
const make = () =>
  act(async () => {
    address.value = (await data(api.POST('/calendar'))).address
    if (await copyText(address.value)) tell(t('common.copied'))
  })
const forget = () =>
  act(
    async () => {
      await api.DELETE('/calendar')
      address.value = ''
    },
    { done: t('calendar.forgotten') },
  )
</script>

<template>
  <section>
    <h2>{{ t('calendar.title') }}</h2>
    <p class="small quiet">{{ t('calendar.about') }}</p>
    <p v-if="address">
      <output class="no address">{{ address }}</output>
      <span class="small quiet">{{ t('calendar.once') }}</span>
    </p>
    <p v-else-if="calendar" class="small">
      {{ t(calendar.read ? 'calendar.read' : 'calendar.unread', { when: said.when(calendar.read ?? calendar.made) }) }}
    </p>
    <div class="acts">
      <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="make">
        {{ t(calendar ? 'calendar.anew' : 'calendar.make') }}
      </button>
      <button v-if="calendar" type="button" class="btn btn-text btn-small" :disabled="busy" @click="forget">
        {{ t('calendar.forget') }}
      </button>
    </div>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
section > p {
  margin: var(--tb-s2) 0;
}
.address {
  display: block;
  overflow-wrap: anywhere;
  user-select: all;
}
</style>
