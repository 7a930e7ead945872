<script setup lang="ts">
import { useAct } from '../../app/act'
import { useEntry } from '../../queries/sessions'
import { BFormInput } from 'bootstrap-vue-next'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import DoorStep from './DoorStep.vue'
import SecondFactor from './SecondFactor.vue'

/** A one-time link: the first sign-in of somebody who was invited, or a new password. */
const props = defineProps<{ token: string }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const router = useRouter()
const { data: entry, error } = useEntry(props.token)
const name = ref('')
const password = ref('')
const own = ref(false)
const { act, busy, wrong } = useAct({ apart: true })
const factors = ref<Schemas['SignedIn']['factors']>([])
const goesTo = ref('/today')
const asks = computed(() => entry.value?.needsPassword || own.value)
watch(entry, (e) => {
  // Somebody invited by address only is asked for a name.
  name.value = e && e.name !== e.email ? e.name : ''
})

const enter = () =>
  act(async () => {
    const answer = await data(
      api.POST('/entries/{token}', {
        params: { path: { token: props.token } },
        body: { name: name.value || undefined, password: asks.value ? password.value : undefined },
      }),
    )
    goesTo.value = answer.goesTo ?? '/today'
    factors.value = store.take(answer)
    if (!factors.value.length) await router.replace(goesTo.value)
  })
</script>

<template>
  <DoorStep
    :title="entry?.kind === 'password' ? t('enter.newPassword') : t('enter.welcome')"
    :intro="entry ? (entry.by ? t('enter.by', { by: entry.by, practice: entry.practice }) : t('enter.once')) : ''"
  >
    <div v-if="error" class="enter">
      <h2>{{ t('enter.over') }}</h2>
      <p>{{ said.problem(error) }}</p>
      <RouterLink class="btn btn-plain" to="/sign-in">{{ t('enter.toSignIn') }}</RouterLink>
    </div>
    <SecondFactor v-else-if="factors.length" :factors="factors" @done="router.replace(goesTo)" @again="factors = []" />
    <form v-else-if="entry" class="enter" @submit.prevent="enter">
      <h2>{{ entry.name === entry.email ? entry.email : entry.name }}</h2>
      <p v-if="entry.name !== entry.email" class="quiet">{{ entry.email }}</p>
      <template v-if="entry.kind === 'invitation' && entry.name === entry.email">
        <label for="enter-name">{{ t('enter.name') }}</label>
        <BFormInput id="enter-name" v-model="name" autocomplete="name" :placeholder="t('enter.nameHint')" />
      </template>
      <template v-if="asks">
        <label for="enter-password">{{ t('enter.password') }}</label>
        <BFormInput
          id="enter-password"
          v-model="password"
          type="password"
          autocomplete="new-password"
          :minlength="entry.minPassword"
          required
        />
        <p class="small quiet">{{ t('enter.passwordHint', { n: entry.minPassword }) }}</p>
      </template>
      <p v-else class="small quiet">
        {{ t('enter.byCode') }}
        <button type="button" class="go" @click="own = true">{{ t('enter.rather') }}</button>
      </p>
      <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
      <button class="btn btn-primary" type="submit" :disabled="busy" autofocus>{{ t('signin.comeIn') }}</button>
    </form>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
  </DoorStep>
</template>
