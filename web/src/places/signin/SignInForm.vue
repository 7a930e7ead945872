<script setup lang="ts">
import { useAct } from '../../app/act'
import { BFormInput } from 'bootstrap-vue-next'
import { nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useSession } from '../../app/session'
import SecondFactor from './SecondFactor.vue'

/**
 * Signing in by address and password, or by a code that is mailed to guests. What was typed stays when it was wrong; a
 * second factor follows where one is set up.
 */
const props = defineProps<{ address?: string }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const store = useSession()
const email = ref(props.address ?? '')
const password = ref('')
const code = ref('')
// An address in the link means a guest who comes in by code.
const way = ref<'password' | 'code' | 'forgot'>(props.address ? 'code' : 'password')
const sent = ref(false)
const factors = ref<Schemas['SignedIn']['factors']>([])
const { act, busy, wrong } = useAct({ apart: true })
const codeField = ref<HTMLInputElement>()

function take(answer: Schemas['SignedIn']) {
  factors.value = store.take(answer)
  if (!factors.value.length) emit('done')
}
const sign = () => act(async () => take(await data(api.POST('/session', { body: { email: email.value, password: password.value } }))))
const byCode = () => act(async () => take(await data(api.POST('/session/by-code', { body: { email: email.value, code: code.value } }))))
const sendCode = () =>
  act(async () => {
    await api.POST('/session/code', { body: { email: email.value } })
    sent.value = true
    await nextTick()
    codeField.value?.focus()
  })
const forgot = () =>
  act(async () => {
    await api.POST('/entries', { body: { email: email.value } })
    sent.value = true
  })
/** The sixth digit is the last: nobody has to press anything then. */
watch(code, (c) => {
  if (c.replace(/\D/g, '').length === 6 && !busy.value) void byCode()
})
function by(other: typeof way.value) {
  way.value = other
  sent.value = false
  wrong.value = ''
}
</script>

<template>
  <SecondFactor v-if="factors.length" :factors="factors" @done="$emit('done')" @again="factors = []" />
  <form v-else-if="way === 'password'" class="sign" @submit.prevent="sign">
    <label for="email">{{ t('signin.email') }}</label>
    <BFormInput id="email" v-model="email" type="email" name="email" autocomplete="username" required autofocus />
    <label for="password">{{ t('signin.password') }}</label>
    <BFormInput id="password" v-model="password" type="password" name="password" autocomplete="current-password" required />
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <button class="btn btn-primary" type="submit" :disabled="busy">{{ t('signin.sign') }}</button>
    <p class="small ways">
      <button type="button" class="go" @click="by('code')">{{ t('signin.guest') }}</button>
      <button type="button" class="go" @click="by('forgot')">{{ t('signin.forgot') }}</button>
    </p>
  </form>
  <form v-else class="sign" @submit.prevent="way === 'forgot' ? forgot() : sent ? byCode() : sendCode()">
    <label for="email">{{ t('signin.email') }}</label>
    <BFormInput
      id="email"
      v-model="email"
      type="email"
      name="email"
      autocomplete="username"
      required
      :autofocus="!address"
      :readonly="sent && way === 'code'"
    />
    <template v-if="way === 'code' && sent">
      <label for="code">{{ t('signin.code') }}</label>
      <input
        id="code"
        ref="codeField"
        v-model="code"
        class="form-control no"
        name="code"
        inputmode="numeric"
        autocomplete="one-time-code"
        required
      />
      <p class="small quiet">{{ t('signin.codeSent') }}</p>
    </template>
    <p v-else-if="way === 'code'" class="small quiet">{{ t('signin.codeHint') }}</p>
    <p v-else class="small quiet" :role="sent ? 'status' : undefined">{{ sent ? t('signin.forgotSent') : t('signin.forgotHint') }}</p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <button v-if="way === 'code' || !sent" class="btn btn-primary" type="submit" :disabled="busy">
      {{ way === 'forgot' ? t('signin.sendLink') : sent ? t('signin.comeIn') : t('signin.sendCode') }}
    </button>
    <p class="small ways">
      <button v-if="sent && way === 'code'" type="button" class="go" :disabled="busy" @click="sendCode">{{ t('signin.another') }}</button>
      <button type="button" class="go" @click="by('password')">{{ t('signin.byPassword') }}</button>
    </p>
  </form>
</template>

<style scoped>
.sign {
  display: grid;
  gap: 6px;
  max-width: 360px;
  margin-top: var(--tb-s4);
}
.sign label {
  font-weight: 560;
  font-size: var(--tb-text);
}
.sign .form-control {
  padding: 0.5rem 0.625rem;
  font-size: var(--tb-lead);
  margin-bottom: var(--tb-s2);
}
.sign .btn {
  justify-self: start;
  padding: 0.5rem 1.5rem;
  margin-top: var(--tb-s1);
}
#code {
  letter-spacing: 0.2em;
  max-width: 160px;
}
.ways {
  display: flex;
  gap: var(--tb-s5);
  margin-top: 10px;
}
</style>
