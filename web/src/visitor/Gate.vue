<script setup lang="ts">
import { computed, ref } from 'vue'
import { api } from '../api/client'
import { begins, takesIn, useThisVisit } from './visit'
import { say } from './words'

/** What is asked of a visitor before they are let in: who they are, a code, a password. */
const { token, front, wrong, open, trying } = useThisVisit()
const password = ref('')
const email = ref('')
const code = ref('')
/** A code is on its way; now it is asked for. */
const sent = ref(false)
const busy = ref(false)

/** Whoever is signed in is known by that. */
const asksEmail = computed(() => !front.value?.knownAs && (front.value?.identify === 'stated' || front.value?.identify === 'confirmed'))
const asksCode = computed(() => asksEmail.value && front.value?.identify === 'confirmed')
const needsAccount = computed(() => front.value?.identify === 'signed-in' && !front.value.knownAs)
const needsPassword = computed(() => front.value?.needsPassword && (!asksCode.value || sent.value))
const label = computed(() =>
  asksCode.value && !sent.value
    ? say('sendCode')
    : front.value?.needsPassword || asksEmail.value
      ? say('open')
      : say(begins(front.value?.kind) ? 'begin' : fetches.value ? 'fetchAll' : 'show'),
)
/** Of a transfer everything can be fetched by the act that opens it. */
const fetches = computed(
  () => front.value?.kind === 'transfer' && !front.value.viewOnly && !front.value.needsPassword && !asksEmail.value && !needsAccount.value,
)

const sendCode = () =>
  trying(async () => {
    await api.POST('/visits/{token}/code', { params: { path: { token } }, body: { email: email.value } })
    sent.value = true
  })
async function submit(fetch = fetches.value) {
  busy.value = true
  if (asksCode.value && !sent.value) await sendCode()
  else await open({ password: password.value || undefined, email: email.value || undefined, code: code.value || undefined }, fetch)
  busy.value = false
}
function another() {
  sent.value = false
  code.value = wrong.value = ''
}
</script>

<template>
  <form v-if="needsAccount" class="gate" @submit.prevent>
    <p class="terms letter">{{ say('needsAccount', { sender: front?.sender ?? '', practice: front?.practice ?? '' }) }}</p>
    <div>
      <a class="btn btn-primary big" :href="`/sign-in?next=/l/${token}`">{{ say('signIn') }}</a>
    </div>
  </form>
  <form v-else class="gate" @submit.prevent="submit()">
    <template v-if="asksEmail">
      <p class="quiet">
        {{
          sent
            ? say(front?.kind === 'address' ? 'codeSentTo' : 'codeSent', { email })
            : say(front?.kind === 'address' ? 'confirmedTo' : asksCode ? 'confirmed' : 'stated', { sender: front?.sender ?? '' })
        }}
      </p>
      <template v-if="!sent">
        <h2>
          <label for="email">{{ say('email') }}</label>
        </h2>
        <input id="email" v-model="email" class="form-control" type="email" autocomplete="email" autofocus required />
      </template>
      <template v-else>
        <h2>
          <label for="code">{{ say('code') }}</label>
        </h2>
        <input id="code" v-model="code" class="form-control no" inputmode="numeric" autocomplete="one-time-code" autofocus required />
      </template>
    </template>
    <template v-if="needsPassword">
      <h2>
        <label for="password">{{ say('password') }}</label>
      </h2>
      <p class="quiet">{{ say('passwordHint') }}</p>
      <input id="password" v-model="password" class="form-control" type="password" autocomplete="off" :autofocus="!asksEmail" required />
    </template>
    <p v-else-if="!asksEmail" class="terms letter">
      {{
        say(front?.kind === 'fill' ? 'frontFill' : takesIn(front?.kind) ? 'frontIntake' : fetches ? 'frontSent' : 'front', {
          sender: front?.sender ?? '',
        })
      }}
    </p>
    <p v-if="front?.knownAs && front.identify !== 'none'" class="quiet">{{ say('knownAs', { email: front.knownAs }) }}</p>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <div>
      <button type="submit" class="btn btn-primary big" :disabled="busy">{{ label }}</button>
      <button v-if="fetches" type="button" class="btn btn-text" :disabled="busy" @click="submit(false)">{{ say('showFirst') }}</button>
    </div>
    <button v-if="asksCode && sent" type="button" class="again" @click="another">{{ say('another') }}</button>
  </form>
</template>
