<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconBell from '~icons/ph/bell'
import type { Schemas } from '../../api/client'
import Confirm from '../../parts/Confirm.vue'
import { useSaid } from '../../sentences/said'
import { useCheckout } from './acts'

/** Who has a document in hand, since when and for what; how to be told, to ask, and for managers to take it back. */
const props = defineProps<{ document: Schemas['Document']; held: Schemas['Held'] }>()
const { t } = useI18n()
const said = useSaid()
const { wait, ask, takeBack, busy, wrong } = useCheckout()
const taking = ref(false)
const reason = ref('')
const first = computed(() => props.held.by.split(' ')[0] ?? '')
const over = computed(() => props.held.back && new Date(props.held.back) < said.now.value)
async function take() {
  if (await takeBack(props.document.id, reason.value, first.value)) taking.value = false
}
</script>

<template>
  <section class="in-hand" data-held="other">
    <p class="terms">
      <b>{{ held.by }}</b>
      {{ t('checkout.hasIt', { when: said.when(held.since) }) }}
      <b v-if="held.note">“{{ held.note }}”</b>
      <template v-if="held.back">
        {{ ' ' }}{{ t('checkout.means') }}
        <b>{{ said.exact(held.back) }}</b>
        <span v-if="over">{{ t('checkout.over') }}</span>
      </template>
    </p>
    <p class="small quiet">{{ t(held.keeps ? 'checkout.untilLook' : 'checkout.until', { n: held.version }) }}</p>
    <div class="acts">
      <span v-if="held.waits" class="small">{{ t('checkout.willTell') }}</span>
      <button v-else type="button" class="btn btn-primary btn-small" :disabled="busy" @click="wait(document.id)">
        <IconBell class="i i-s" aria-hidden="true" />
        {{ t('checkout.tellMe') }}
      </button>
      <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="ask(document.id, first)">
        {{ t('checkout.ask', { by: first }) }}
      </button>
      <button v-if="document.may.includes('manage') && !taking" type="button" class="go small" @click="taking = true">
        {{ t('checkout.takeBack', { by: first }) }}
      </button>
    </div>
    <Confirm
      v-if="taking"
      :act="t('checkout.takeBackDo')"
      :discard="t('common.discard')"
      :wrong="wrong"
      :busy="busy"
      :unready="!reason.trim()"
      @do="take"
      @discard="taking = false"
    >
      <label class="small" for="take-reason">{{ t('checkout.why', { by: first }) }}</label>
      <input id="take-reason" v-model="reason" class="form-control" maxlength="200" autocomplete="off" />
    </Confirm>
    <p v-else-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
.terms {
  margin: 0 0 var(--tb-s1);
}
.acts {
  flex-wrap: wrap;
}
</style>
