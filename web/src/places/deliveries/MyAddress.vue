<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import { useAddress } from '../../queries/deliveries'
import AddressKey from './AddressKey.vue'

/** The address at which anybody outside may send one files. */
const { t, locale } = useI18n()
const { data: address } = useAddress()
const { act, busy, wrong } = useAct()
const renaming = ref(false)
const typed = ref<string>()
const name = computed({ get: () => typed.value ?? address.value?.name ?? address.value?.proposed ?? '', set: (n) => (typed.value = n) })
/** Before its name: where the practice is reached. */
const before = `${location.host}/to/`
const publish = () =>
  act(async () => {
    await api.PUT('/me/address', { body: { name: name.value.trim(), language: locale.value === 'de' ? 'de' : 'en' } })
    renaming.value = false
    typed.value = undefined
  })
const end = () => act(() => api.DELETE('/me/address'), { done: t('deliveries.address.ended') })
async function copy() {
  if (address.value?.url && (await copyText(address.value.url))) tell(t('common.copied'))
}
</script>

<template>
  <section v-if="address" id="address">
    <h2>{{ t('deliveries.address.title') }}</h2>
    <p class="small quiet">{{ t(address.possible ? 'deliveries.address.about' : 'deliveries.address.forbidden') }}</p>
    <template v-if="address.possible">
      <form v-if="!address.url || renaming" class="naming" @submit.prevent="publish">
        <label for="address-name">{{ t('deliveries.address.name') }}</label>
        <div class="line">
          <span class="quiet">{{ before }}</span>
          <input id="address-name" v-model="name" class="form-control" maxlength="26" autocomplete="off" spellcheck="false" required />
          <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('deliveries.address.publish') }}</button>
          <button v-if="renaming" type="button" class="btn btn-text btn-small" @click="((renaming = false), (typed = undefined))">
            {{ t('common.discard') }}
          </button>
        </div>
        <p v-if="renaming" class="small quiet">{{ t('deliveries.address.renameHint') }}</p>
      </form>
      <div v-else class="line">
        <output class="no url">{{ address.url }}</output>
        <div class="acts">
          <button type="button" class="btn btn-plain btn-small" @click="copy">{{ t('deliveries.address.copy') }}</button>
          <button type="button" class="btn btn-text btn-small" @click="renaming = true">{{ t('deliveries.address.rename') }}</button>
          <button type="button" class="btn btn-text btn-small" :disabled="busy" @click="end">{{ t('deliveries.address.end') }}</button>
        </div>
      </div>
      <AddressKey v-if="address.url" :recipient="address.recipient" />
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    </template>
  </section>
</template>

<style scoped>
section > p {
  margin: var(--tb-s2) 0;
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s2);
  align-items: center;
}
.naming label {
  font-size: var(--tb-text);
  font-weight: 560;
}
input {
  width: 220px;
}
.url {
  overflow-wrap: anywhere;
  user-select: all;
  margin-right: auto;
}
</style>
