<script setup lang="ts">
import { useAct } from '../../app/act'
import { computed, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useSession } from '../../app/session'
import { answerPasskey } from '../../app/webauthn'

/** The second factor of a sign-in: a passkey, an authenticator's code, or a recovery code. */
type Factor = Schemas['SignedIn']['factors'][number]
const props = defineProps<{ factors: Factor[] }>()
const emit = defineEmits<{ done: []; again: [] }>()
const { t } = useI18n()
const store = useSession()
const factor = ref<Factor>(props.factors[0])
const others = computed(() => props.factors.filter((f) => f !== factor.value))
const code = ref('')
const { act, busy, wrong } = useAct({ apart: true })
const field = ref<HTMLInputElement>()

async function go() {
  const done = await act(async () => {
    const answer = factor.value === 'passkey' ? await answerPasskey(await data(api.POST('/session/passkey'))) : undefined
    store.take(await data(api.POST('/session/second', { body: { factor: factor.value, code: code.value || undefined, answer } })))
  })
  if (done) emit('done')
  else code.value = ''
}
function choose(f: Factor) {
  factor.value = f
  code.value = ''
  wrong.value = ''
}
onMounted(() => field.value?.focus())
</script>

<template>
  <form class="second" @submit.prevent="go">
    <p>{{ t(`signin.second.${factor}`) }}</p>
    <template v-if="factor !== 'passkey'">
      <label for="second-code">{{ t(`signin.secondLabel.${factor}`) }}</label>
      <input
        id="second-code"
        ref="field"
        v-model="code"
        class="form-control no"
        autocomplete="one-time-code"
        :inputmode="factor === 'authenticator' ? 'numeric' : 'text'"
        required
      />
    </template>
    <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
    <button class="btn btn-primary" type="submit" :disabled="busy">
      {{ factor === 'passkey' ? t('signin.usePasskey') : t('signin.sign') }}
    </button>
    <p class="small ways">
      <button v-for="f in others" :key="f" type="button" class="go" @click="choose(f)">{{ t(`signin.instead.${f}`) }}</button>
      <button type="button" class="go" @click="$emit('again')">{{ t('common.back') }}</button>
    </p>
  </form>
</template>

<style scoped>
.second {
  display: grid;
  gap: 6px;
  max-width: 360px;
  margin-top: var(--tb-s4);
}
.second label {
  font-weight: 560;
  font-size: var(--tb-text);
}
.second .form-control {
  padding: 0.5rem 0.625rem;
  font-size: var(--tb-lead);
  margin-bottom: var(--tb-s2);
  max-width: 260px;
}
.second .btn {
  justify-self: start;
  padding: 0.5rem 1.5rem;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s1) var(--tb-s5);
  margin-top: 10px;
}
</style>
