<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import PasswordApart from './PasswordApart.vue'
import { useLinkActs } from './acts'

/** What a sender does with a link that is out, wherever it is listed. */
const HandOut = defineAsyncComponent(() => import('./HandOut.vue'))
const props = defineProps<{ link: Schemas['Link'] }>()
const { t } = useI18n()
const acts = useLinkActs()
const { act, busy } = useAct()
const changing = ref(false)
/** A password that was just set, to be handed over. */
const given = ref('')

const setPassword = () =>
  act(
    async () => {
      const { password } = await data(api.POST('/links/password'))
      await acts.adjust(props.link, { password })
      given.value = password
    },
    { done: t('links.password', { name: props.link.name }), aloud: true },
  )
</script>

<template>
  <div class="acts small link-acts">
    <button v-if="link.address" type="button" class="go" @click="acts.copy(link)">{{ t('slip.copyLink') }}</button>
    <template v-if="link.mayEnd && link.state !== 'ended'">
      <button v-if="link.until" type="button" class="go" :disabled="busy" @click="acts.weekMore(link)">{{ t('links.weekMore') }}</button>
      <button type="button" class="go" :disabled="busy" @click="setPassword">
        {{ t(link.hasPassword ? 'links.newPassword' : 'links.addPassword') }}
      </button>
      <button v-if="link.openingsLimit" type="button" class="go" @click="acts.grantOpening(link)">{{ t('slip.oneMore') }}</button>
      <button type="button" class="go" @click="changing = true">{{ t('outward.change') }}</button>
    </template>
    <slot />
    <button v-if="link.mayEnd" type="button" class="go" @click="acts.end(link)">{{ t('slip.end') }}</button>
  </div>
  <PasswordApart v-if="given" class="given" :name="link.name" :by="link.by" :password="given" />
  <HandOut v-if="changing" class="docked" :items="link.items.map((i) => i.id)" :link="link" @close="changing = false" />
</template>

<style scoped>
.link-acts {
  gap: 0 14px;
  flex-wrap: wrap;
}
.given {
  margin: var(--tb-s2) 0;
}
.docked {
  position: fixed;
  left: 0;
  right: 0;
  bottom: 0;
}
</style>
