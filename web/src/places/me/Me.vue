<script setup lang="ts">
import { useFactors, usePlaces } from '../../queries/sessions'
import { BFormInput } from 'bootstrap-vue-next'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Absences from '../decisions/Absences.vue'
import CalendarAddress from './CalendarAddress.vue'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import MailPrograms from '../mailing/MailPrograms.vue'
import MyAddress from '../deliveries/MyAddress.vue'
import Digest from '../following/Digest.vue'
import { makePasskey, passkeys as known } from '../../app/webauthn'

/** What I sign in with, and where I am signed in. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const router = useRouter()
const { data: factors } = useFactors()
const { data: places } = usePlaces(() => !store.session?.needsFactor)
const writing = ref<'' | 'password' | 'authenticator' | 'remove' | 'passkey' | 'recovery'>('')
const { act, busy, wrong } = useAct()
const old = ref('')
const password = ref('')
const code = ref('')
const keyName = ref('')
const offer = ref<Schemas['AuthenticatorOffer']>()
/** Shown once, when a factor was set up. */
const codes = ref<string[]>([])

function write(what: typeof writing.value) {
  wrong.value = old.value = password.value = code.value = ''
  writing.value = what
}
async function factorSet(made: Schemas['RecoveryCodes']) {
  codes.value = made.codes
  writing.value = ''
  tell(t('me.factorHolds'))
  await store.refresh()
}
const changePassword = () =>
  act(async () => {
    await api.PUT('/me/password', { body: { old: old.value, password: password.value } })
    write('')
    tell(t('me.passwordChanged'))
  })
const begin = () =>
  act(async () => {
    offer.value = await data(api.POST('/me/authenticator'))
    write('authenticator')
  })
const confirm = () =>
  act(async () => factorSet(await data(api.PUT('/me/authenticator', { body: { offer: offer.value!.offer, code: code.value } }))))
const remove = () =>
  act(async () => {
    await api.DELETE('/me/authenticator', { body: { password: old.value } })
    write('')
    tell(t('me.removed'))
  })
const renewCodes = () => act(async () => factorSet(await data(api.POST('/me/recovery-codes', { body: { password: old.value } }))))
const addPasskey = () =>
  act(async () => {
    const answer = await makePasskey(await data(api.POST('/me/passkeys/offer')))
    await factorSet(await data(api.POST('/me/passkeys', { body: { name: keyName.value || t('me.thisDevice'), answer } })))
    keyName.value = ''
  })
const removePasskey = (key: string) =>
  act(async () => {
    await api.DELETE('/me/passkeys/{key}', { params: { path: { key } } })
    tell(t('me.removed'))
  })
const endPlace = (id: string) =>
  act(async () => {
    await api.DELETE('/me/sessions/{id}', { params: { path: { id } } })
  })
const endOthers = () =>
  act(async () => {
    await api.DELETE('/me/sessions')
    tell(t('me.othersEnded'))
  })
</script>

<template>
  <main id="content" class="plain me">
    <header>
      <div>
        <h1>{{ t('me.title') }}</h1>
        <p class="terms">{{ store.session?.person.name }}, {{ store.session?.person.email }}</p>
      </div>
    </header>
    <p v-if="store.session?.needsFactor && !codes.length" class="must" role="alert">{{ t('me.needsFactor') }}</p>
    <section v-if="codes.length" class="codes">
      <h2>{{ t('me.codes') }}</h2>
      <p>{{ t('me.codesHint') }}</p>
      <ul>
        <li v-for="c in codes" :key="c" class="no">{{ c }}</li>
      </ul>
      <div class="acts">
        <button
          type="button"
          class="btn btn-plain btn-small"
          @click="copyText(codes.join('\n')).then((ok) => ok && tell(t('common.copied')))"
        >
          {{ t('common.copy') }}
        </button>
        <button type="button" class="btn btn-primary btn-small" @click="((codes = []), router.push('/today'))">
          {{ t('me.codesKept') }}
        </button>
      </div>
    </section>
    <section v-if="factors">
      <h2>{{ t('me.signIn') }}</h2>
      <ul class="rows">
        <li>
          <div>
            <b>{{ t('signin.password') }}</b>
            <span class="small quiet">{{ t(factors.password ? 'me.passwordIs' : 'me.passwordNone') }}</span>
          </div>
          <button type="button" class="btn btn-plain btn-small" @click="write('password')">
            {{ t(factors.password ? 'me.change' : 'me.setUp') }}
          </button>
          <form v-if="writing === 'password'" class="written" @submit.prevent="changePassword">
            <template v-if="factors.password">
              <label for="old">{{ t('me.old') }}</label>
              <BFormInput id="old" v-model="old" type="password" autocomplete="current-password" required />
            </template>
            <label for="new">{{ t('me.new') }}</label>
            <BFormInput id="new" v-model="password" type="password" autocomplete="new-password" minlength="10" required />
            <p class="small quiet">{{ t('me.passwordHint') }}</p>
            <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
            <div class="acts">
              <button class="btn btn-primary btn-small" type="submit">{{ t('me.change') }}</button>
              <button class="btn btn-text btn-small" type="button" @click="write('')">{{ t('common.discard') }}</button>
            </div>
          </form>
        </li>
        <li>
          <div>
            <b>{{ t('me.authenticator') }}</b>
            <span class="small quiet">{{ t(factors.authenticator ? 'me.authenticatorIs' : 'me.authenticatorNone') }}</span>
          </div>
          <button v-if="factors.authenticator" type="button" class="btn btn-plain btn-small" @click="write('remove')">
            {{ t('me.remove') }}
          </button>
          <button v-else type="button" class="btn btn-plain btn-small" @click="begin">{{ t('me.setUp') }}</button>
          <form v-if="writing === 'authenticator' && offer" class="written two" @submit.prevent="confirm">
            <img :src="offer.picture" :alt="t('me.picture')" width="180" height="180" />
            <div>
              <p>{{ t('me.scan') }}</p>
              <p class="small quiet">
                {{ t('me.orType') }}
                <span class="no">{{ offer.secret }}</span>
              </p>
              <label for="totp">{{ t('me.firstCode') }}</label>
              <input id="totp" v-model="code" class="form-control no" inputmode="numeric" autocomplete="one-time-code" required />
              <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
              <div class="acts">
                <button class="btn btn-primary btn-small" type="submit">{{ t('me.setUp') }}</button>
                <button class="btn btn-text btn-small" type="button" @click="write('')">{{ t('common.discard') }}</button>
              </div>
            </div>
          </form>
          <form v-if="writing === 'remove'" class="written" @submit.prevent="remove">
            <label for="confirm">{{ t('me.old') }}</label>
            <BFormInput id="confirm" v-model="old" type="password" autocomplete="current-password" required />
            <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
            <div class="acts">
              <button class="btn btn-primary btn-small" type="submit">{{ t('me.remove') }}</button>
              <button class="btn btn-text btn-small" type="button" @click="write('')">{{ t('common.discard') }}</button>
            </div>
          </form>
        </li>
        <li>
          <div>
            <b>{{ t('me.passkeys') }}</b>
            <span class="small quiet">
              {{
                factors.passkeys.length
                  ? factors.passkeys.map((p) => p.name).join(', ')
                  : t(factors.passkeysPossible && known ? 'me.passkeysNone' : 'me.passkeysNot')
              }}
            </span>
          </div>
          <button v-if="factors.passkeysPossible && known" type="button" class="btn btn-plain btn-small" @click="write('passkey')">
            {{ t('me.addPasskey') }}
          </button>
          <form v-if="writing === 'passkey'" class="written" @submit.prevent="addPasskey">
            <label for="key-name">{{ t('me.keyName') }}</label>
            <BFormInput id="key-name" v-model="keyName" :placeholder="t('me.thisDevice')" maxlength="100" />
            <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
            <div class="acts">
              <button class="btn btn-primary btn-small" type="submit">{{ t('me.addPasskey') }}</button>
              <button class="btn btn-text btn-small" type="button" @click="write('')">{{ t('common.discard') }}</button>
            </div>
          </form>
          <ul v-if="factors.passkeys.length" class="keys small">
            <li v-for="p in factors.passkeys" :key="p.key">
              <span>
                {{ p.name }}
                <span class="quiet">{{ said.when(p.used ?? p.at) }}</span>
              </span>
              <button type="button" class="go" @click="removePasskey(p.key)">{{ t('me.remove') }}</button>
            </li>
          </ul>
        </li>
        <li v-if="factors.authenticator || factors.passkeys.length">
          <div>
            <b>{{ t('me.recovery') }}</b>
            <span class="small quiet">{{ t('me.recoveryLeft', { n: factors.recoveryLeft }, factors.recoveryLeft) }}</span>
          </div>
          <form v-if="writing === 'recovery'" class="acts" @submit.prevent="renewCodes">
            <input
              v-model="old"
              class="form-control"
              type="password"
              autocomplete="current-password"
              :aria-label="t('me.old')"
              :placeholder="t('me.old')"
              required
            />
            <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('me.renewCodes') }}</button>
            <button type="button" class="btn btn-text btn-small" @click="write('')">{{ t('common.discard') }}</button>
            <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
          </form>
          <button v-else type="button" class="go" @click="write('recovery')">{{ t('me.renew') }}</button>
        </li>
      </ul>
      <p v-if="wrong && !writing" class="t-caution" role="alert">{{ wrong }}</p>
    </section>
    <Digest v-if="!store.session?.needsFactor" />
    <MyAddress v-if="!store.session?.needsFactor && store.session?.standing !== 'guest'" />
    <MailPrograms v-if="!store.session?.needsFactor && store.session?.standing !== 'guest'" />
    <Absences v-if="!store.session?.needsFactor && store.session?.standing !== 'guest'" />
    <CalendarAddress />
    <section v-if="places">
      <h2>{{ t('me.where') }}</h2>
      <ul class="rows">
        <li v-for="p in places" :key="p.id">
          <div>
            <b>{{ p.agent || t('me.someProgram') }}</b>
            <span class="small quiet">
              {{ p.here ? t('me.here') : p.seen ? t('me.seen', { when: said.when(p.seen) }) : '' }};
              {{ t('me.since', { when: said.exact(p.since), network: p.network }) }}
            </span>
          </div>
          <button v-if="!p.here" type="button" class="btn btn-plain btn-small" @click="endPlace(p.id)">{{ t('common.signOut') }}</button>
        </li>
      </ul>
      <button v-if="places.length > 1" type="button" class="btn btn-plain" @click="endOthers">{{ t('me.endOthers') }}</button>
    </section>
  </main>
</template>

<style scoped>
.me :deep(section) {
  max-width: 720px;
  margin-top: 18px;
}
.me :deep(h2) {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
}
.rows > li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 0 var(--tb-s4);
  padding: 9px 0;
  border-bottom: 1px solid var(--tb-line);
}
.rows div > b,
.rows div > span {
  display: block;
}
.written {
  grid-column: 1 / -1;
  display: grid;
  gap: 6px;
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 12px 14px;
  margin-top: var(--tb-s2);
  max-width: 460px;
}
.written.two {
  grid-template-columns: 180px 1fr;
  gap: var(--tb-s4);
  max-width: none;
}
.written img {
  background: var(--tb-paper);
}
.written label {
  font-weight: 560;
  font-size: var(--tb-text);
}
.must {
  background: var(--tb-caution-wash);
  color: var(--tb-caution-text);
  padding: var(--tb-s2) var(--tb-s3);
  border-radius: 3px;
  font-weight: 560;
  margin-top: var(--tb-s3);
  max-width: 720px;
}
.codes ul {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: var(--tb-s1) var(--tb-s6);
  margin: 10px 0 14px;
  max-width: 480px;
}
.keys {
  grid-column: 1 / -1;
}
.keys li {
  display: flex;
  justify-content: space-between;
  padding: 3px 0;
}
@media (max-width: 600px) {
  .written.two {
    grid-template-columns: 1fr;
  }
}
</style>
