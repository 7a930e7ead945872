<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import Failed from '../../app/Failed.vue'
import { useAddress, useDeliveries } from '../../queries/deliveries'
import { useSaid } from '../../sentences/said'
import DeskWays from './DeskWays.vue'
import OneDelivery from './OneDelivery.vue'

/** What people outside sent to one's address. Until it is accepted nobody opens it. */
const { t } = useI18n()
const said = useSaid()
const showsDecided = ref(false)
const { data: waiting, error, refetch } = useDeliveries(false)
const { data: decided } = useDeliveries(true, showsDecided)
const { data: address } = useAddress()
const count = computed(() => waiting.value?.length ?? 0)
</script>

<template>
  <main id="content" class="plain">
    <DeskWays />
    <header>
      <div>
        <h1>{{ t('deliveries.title') }}</h1>
        <p v-if="waiting" class="terms">{{ t('deliveries.summary', { n: said.count(count) }, count) }}</p>
      </div>
    </header>
    <Failed v-if="error && !waiting" :error="error" @again="refetch()" />
    <p v-else-if="!waiting" class="quiet">{{ t('common.loading') }}</p>
    <div v-else-if="!count" class="empty">
      <h2>{{ t('deliveries.none') }}</h2>
      <template v-if="address">
        <p>{{ address.url ? t('deliveries.noneAt', { url: address.url }) : t('deliveries.noneHint') }}</p>
        <RouterLink v-if="!address.url && address.possible" class="btn btn-plain" to="/me#address">
          {{ t('deliveries.toAddress') }}
        </RouterLink>
      </template>
    </div>
    <template v-else>
      <OneDelivery v-for="d in waiting" :key="d.id" :delivery="d" />
    </template>
    <p class="after">
      <button v-if="!showsDecided" type="button" class="go" @click="showsDecided = true">{{ t('deliveries.showDecided') }}</button>
    </p>
    <section v-if="decided?.length">
      <h2 class="small">{{ t('deliveries.decided') }}</h2>
      <OneDelivery v-for="d in decided" :key="d.id" :delivery="d" />
    </section>
  </main>
</template>

<style scoped>
.after {
  margin: var(--tb-s3) 0;
}
.empty p {
  overflow-wrap: anywhere;
}
</style>
