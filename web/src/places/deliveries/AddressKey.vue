<script setup lang="ts">
import { ref, watchEffect } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { keepKey, keyOf } from '../../sealed/kept'
import { saveBlob } from '../../sealed/saving'

/** The key for which senders seal. Its secret half is made here, and never leaves this browser but by being saved. */
const props = defineProps<{ recipient?: string }>()
const { t } = useI18n()
const { act, busy, wrong } = useAct()
const identity = ref<string>()
watchEffect(async () => (identity.value = props.recipient ? await keyOf(props.recipient) : undefined))

const make = () =>
  act(
    async () => {
      const { generateX25519Identity, identityToRecipient } = await import('age-encryption')
      const secret = await generateX25519Identity()
      const recipient = await identityToRecipient(secret)
      await keepKey(recipient, secret)
      await api.PUT('/me/address/key', { body: { recipient } })
      keep(secret, recipient)
    },
    { done: t('deliveries.address.keyMade') },
  )
/** An identity file, as the age program reads it. */
const keep = (secret: string, recipient: string) =>
  saveBlob(new Blob([`# public key: ${recipient}\n${secret}\n`], { type: 'text/plain' }), 'address-key.txt')
const takeBack = () => act(() => api.PUT('/me/address/key', { body: {} }), { done: t('deliveries.address.keyGone') })
</script>

<template>
  <div class="key">
    <div>
      <b>{{ t('deliveries.address.key') }}</b>
      <span class="small quiet">
        {{ t(recipient ? 'deliveries.address.keyIs' : 'deliveries.address.keyNone') }}
        <template v-if="recipient">{{ t(identity ? 'deliveries.address.keyHere' : 'deliveries.address.keyElsewhere') }}</template>
      </span>
    </div>
    <div class="acts">
      <template v-if="recipient">
        <button v-if="identity" type="button" class="btn btn-plain btn-small" @click="keep(identity, recipient)">
          {{ t('deliveries.address.keyKeep') }}
        </button>
        <button type="button" class="btn btn-text btn-small" :disabled="busy" @click="takeBack">
          {{ t('deliveries.address.keyTake') }}
        </button>
      </template>
      <button v-else type="button" class="btn btn-plain btn-small" :disabled="busy" @click="make">
        {{ t('deliveries.address.keyMake') }}
      </button>
    </div>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.key {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: var(--tb-s2) var(--tb-s4);
  margin-top: var(--tb-s3);
}
.key b,
.key span {
  display: block;
}
@media (max-width: 600px) {
  .key {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
