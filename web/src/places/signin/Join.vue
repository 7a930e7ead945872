<script setup lang="ts">
import { useAct } from '../../app/act'
import { useJoining } from '../../queries/people'
import { BFormInput } from 'bootstrap-vue-next'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useSaid } from '../../sentences/said'
import DoorStep from './DoorStep.vue'

/** An invitation link: whoever has it gives a name and an address, which is confirmed by mail. */
const props = defineProps<{ token: string }>()
const { t } = useI18n()
const said = useSaid()
const { data: front, error } = useJoining(props.token)
const name = ref('')
const email = ref('')
const { act, busy, wrong } = useAct({ apart: true })
const sent = ref(false)

const join = () =>
  act(async () => {
    await api.POST('/joining/{token}', { params: { path: { token: props.token } }, body: { name: name.value, email: email.value } })
    sent.value = true
  })
</script>

<template>
  <DoorStep :title="t('enter.welcome')" :intro="front ? t('enter.by', { by: front.by, practice: front.practice }) : ''">
    <div v-if="error" class="enter">
      <h2>{{ t('enter.over') }}</h2>
      <p>{{ said.problem(error) }}</p>
    </div>
    <div v-else-if="sent" class="enter" role="status">
      <h2>{{ t('enter.lookMail') }}</h2>
      <p>{{ t('enter.mailSent', { email }) }}</p>
    </div>
    <form v-else-if="front" class="enter" @submit.prevent="join">
      <label for="join-name">{{ t('enter.name') }}</label>
      <BFormInput id="join-name" v-model="name" autocomplete="name" required autofocus />
      <label for="join-email">{{ t('signin.email') }}</label>
      <BFormInput id="join-email" v-model="email" type="email" autocomplete="email" required />
      <p v-if="front.domain" class="small quiet">{{ t('enter.domain', { domain: front.domain }) }}</p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <button class="btn btn-primary" type="submit" :disabled="busy">{{ t('enter.join') }}</button>
    </form>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </DoorStep>
</template>
