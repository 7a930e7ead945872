<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconCheck from '~icons/ph/check'
import IconCopy from '~icons/ph/copy'
import IconQR from '~icons/ph/qr-code'
import IconShare from '~icons/ph/export'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Terms from '../../parts/Terms.vue'
import { useLinkActs } from './acts'

/** A link that was just made: its address, its terms, and the mail that carries it. */
const props = defineProps<{ link: Schemas['Link']; copied: boolean; password?: string; again?: boolean }>()
const { t } = useI18n()
const acts = useLinkActs()
const to = ref('')
const message = ref('')
const sentTo = ref<string[]>([])
const picture = ref(false)
/** The device's own way of sending, where it has one. */
const canShare = 'share' in navigator
const share = () => navigator.share({ title: props.link.name, url: props.link.address }).catch(() => undefined)

const { act, busy, wrong } = useAct()
async function send() {
  const addresses = to.value.split(/[,;\s]+/).filter(Boolean)
  const body = { to: addresses, message: message.value }
  const done = await act(() => api.POST('/links/{id}/mail', { params: { path: { id: props.link.id } }, body }), {
    done: t('handout.sent', { to: addresses.join(', ') }),
  })
  if (!done) return
  sentTo.value.push(...addresses)
  to.value = ''
}
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
  <form class="mail" @submit.prevent="send">
    <h3>{{ t('handout.mail') }}</h3>
    <label for="mail-to">{{ t('handout.to') }}</label>
    <input id="mail-to" v-model="to" class="form-control" :placeholder="t('handout.toHint')" autocomplete="email" required />
    <label for="mail-text">{{ t('handout.message') }}</label>
    <textarea id="mail-text" v-model="message" class="form-control" rows="2"></textarea>
    <span></span>
    <span class="acts">
      <button type="submit" class="btn btn-plain" :disabled="busy">{{ t('handout.send') }}</button>
      <span v-if="sentTo.length" class="t-done small">{{ t('handout.sent', { to: sentTo.join(', ') }) }}</span>
      <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
    </span>
  </form>
</template>

<style scoped>
.made {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  font-family: 'Literata Variable', serif;
  font-size: var(--tb-title);
  line-height: 30px;
}
.made .i {
  color: var(--tb-done);
}
.address {
  margin: 6px 0 8px;
}
.address .form-control {
  font-size: var(--tb-text);
}
.qr {
  background: var(--tb-paper);
  padding: var(--tb-s3);
  border: 1px solid var(--tb-line);
  margin-bottom: var(--tb-s2);
}
.mail {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  gap: 6px 8px;
  align-items: center;
  margin-top: var(--tb-s3);
  border-top: 1px solid var(--tb-line);
  padding-top: var(--tb-s2);
}
.mail h3 {
  grid-column: 1 / 3;
}
.mail label {
  font-size: var(--tb-text);
  color: var(--tb-quiet);
}
</style>
