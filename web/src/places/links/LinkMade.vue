<script setup lang="ts">
import { linkKeys } from '../../queries/links'
import { useMutation, useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconCheck from '~icons/ph/check'
import IconCopy from '~icons/ph/copy'
import IconQR from '~icons/ph/qr-code'
import IconShare from '~icons/ph/export'
import { api, type Schemas } from '../../api/client'
import { tell } from '../../app/notices'
import { useSaid } from '../../sentences/said'
import Terms from '../../parts/Terms.vue'
import { useLinkActs } from './acts'

/** A link that was just made: its address, its terms, and the mail that carries it. */
const props = defineProps<{ link: Schemas['Link']; copied: boolean; password?: string; again?: boolean }>()
const { t } = useI18n()
const said = useSaid()
const acts = useLinkActs()
const queries = useQueryClient()
const to = ref('')
const message = ref('')
const sentTo = ref<string[]>([])
const picture = ref(false)
/** The device's own way of sending, where it has one. */
const canShare = 'share' in navigator
const share = () => navigator.share({ title: props.link.name, url: props.link.address }).catch(() => undefined)

const send = useMutation({
  mutationFn: () => {
    const addresses = to.value.split(/[,;\s]+/).filter(Boolean)
    return api
      .POST('/links/{id}/mail', { params: { path: { id: props.link.id } }, body: { to: addresses, message: message.value } })
      .then(() => addresses)
  },
  onSuccess: (addresses) => {
    sentTo.value.push(...addresses)
    to.value = ''
    tell(t('handout.sent', { to: addresses.join(', ') }))
    void queries.invalidateQueries({ predicate: (q) => q.queryKey[1] !== linkKeys.drafts[1] })
  },
})
</script>

<template>
  <p v-if="!again" class="made">
    <IconCheck aria-hidden="true" />
    <b>{{ copied ? t('handout.made') : t('handout.madeNot') }}</b>
    {{ ' ' }}
    <span class="quiet">{{ t('handout.ready') }}</span>
  </p>
  <div class="acts address">
    <input
      class="form-control no"
      readonly
      :value="link.address"
      :aria-label="t('handout.linkAddress')"
      @focus="($event.target as HTMLInputElement).select()"
    />
    <button type="button" class="btn btn-plain" @click="acts.copy(link)">
      <IconCopy aria-hidden="true" />
      {{ t('common.copy') }}
    </button>
    <button type="button" class="btn btn-plain" :aria-expanded="picture" @click="picture = !picture">
      <IconQR aria-hidden="true" />
      {{ t('handout.picture') }}
    </button>
    <button v-if="canShare" type="button" class="btn btn-plain" @click="share">
      <IconShare aria-hidden="true" />
      {{ t('handout.device') }}
    </button>
  </div>
  <img
    v-if="picture"
    class="qr"
    :src="`/api/links/${link.id}/qr.png`"
    :alt="t('handout.pictureOf', { name: link.name })"
    width="148"
    height="148"
  />
  <p v-if="!again" class="terms listed"><Terms :sentence="link.sentence" /></p>
  <form class="mail" @submit.prevent="send.mutate()">
    <h3>{{ t('handout.mail') }}</h3>
    <label for="mail-to">{{ t('handout.to') }}</label>
    <input id="mail-to" v-model="to" class="form-control" :placeholder="t('handout.toHint')" autocomplete="email" required />
    <label for="mail-text">{{ t('handout.message') }}</label>
    <textarea id="mail-text" v-model="message" class="form-control" rows="2"></textarea>
    <span></span>
    <span class="acts">
      <button type="submit" class="btn btn-plain" :disabled="send.isPending.value">{{ t('handout.send') }}</button>
      <span v-if="sentTo.length" class="t-done small">{{ t('handout.sent', { to: sentTo.join(', ') }) }}</span>
      <span v-if="send.error.value" class="t-caution small" role="alert">{{ said.problem(send.error.value) }}</span>
    </span>
  </form>
</template>

<style scoped>
.made {
  display: flex;
  gap: 8px;
  align-items: center;
  font-family: 'Literata Variable', serif;
  font-size: 1.1875rem;
  line-height: 30px;
}
.made .i {
  color: var(--tb-done);
}
.address {
  margin: 6px 0 8px;
}
.address .form-control {
  font-size: 0.875rem;
}
.qr {
  background: #fff;
  padding: 12px;
  border: 1px solid var(--tb-line);
  margin-bottom: 8px;
}
.mail {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  gap: 6px 8px;
  align-items: center;
  margin-top: 12px;
  border-top: 1px solid var(--tb-line);
  padding-top: 8px;
}
.mail h3 {
  grid-column: 1 / 3;
}
.mail label {
  font-size: 0.875rem;
  color: var(--tb-quiet);
}
</style>
