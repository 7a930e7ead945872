<script setup lang="ts">
import { BFormInput } from 'bootstrap-vue-next'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSaid } from '../../app/said'
import { useSession } from '../../app/session'

/** Address and password. What was typed stays when it was wrong. */
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const email = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)

async function sign() {
  busy.value = true
  wrong.value = ''
  try {
    await store.signIn(email.value, password.value)
    emit('done')
  } catch (e) {
    wrong.value = said.problem(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <form class="sign" @submit.prevent="sign">
    <label for="email">{{ t('signin.email') }}</label>
    <BFormInput id="email" v-model="email" type="email" name="email" autocomplete="username" required autofocus />
    <label for="password">{{ t('signin.password') }}</label>
    <BFormInput id="password" v-model="password" type="password" name="password" autocomplete="current-password" required />
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <button class="btn btn-primary" type="submit" :disabled="busy">{{ t('signin.sign') }}</button>
  </form>
</template>

<style scoped>
.sign { display: grid; gap: 6px; max-width: 360px; margin-top: 16px; }
.sign label { font-weight: 560; font-size: .875rem; }
.sign .form-control { padding: .5rem .625rem; font-size: 1rem; margin-bottom: 8px; }
.sign .btn { justify-self: start; padding: .5rem 1.5rem; margin-top: 4px; }
.wrong { color: var(--tb-bearer-text); font-weight: 560; }
</style>
