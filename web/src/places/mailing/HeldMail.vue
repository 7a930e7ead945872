<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import IconPlane from '~icons/ph/paper-plane-tilt'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import Sheet from '../../parts/Sheet.vue'
import { useMail } from '../../queries/mailing'
import { useSaid } from '../../sentences/said'
import { useWriting } from '../links/writing'
import OutwardWays from '../transfers/OutwardWays.vue'
import TransferTerms from '../transfers/TransferTerms.vue'

/** A mail from one's mail program that waits: to whom it goes, what it gives out, and under which terms. */
const { id } = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const { data: mail, error, refetch } = useMail(() => id)
const addresses = computed(() => mail.value?.to.map((r) => r.address) ?? [])
/** Of the files nothing is told but their sizes: they are there already. */
const writing = useWriting([], undefined, 'transfer', () => ({
  files: (mail.value?.transfer?.files ?? []).map((f, i) => ({ name: String(i + 1), size: f.size })),
  to: addresses.value,
}))
const { terms, opened, draft, body } = writing
const { act, busy, wrong } = useAct()
const path = { params: { path: { id } } }
async function send() {
  const wish = { ...body.value, until: terms.until ?? draft.value?.usualUntil }
  const did = await act(() => api.POST('/mails/{id}/confirmation', { ...path, body: wish }), { done: t('mailing.sent') })
  if (did) await router.push('/outward/transfers')
}
async function discard() {
  if (await act(() => api.DELETE('/mails/{id}', path), { done: t('mailing.discarded') })) await router.push('/outward/transfers')
}
</script>

<template>
  <main id="content" class="plain">
    <OutwardWays />
    <Failed v-if="error && !mail" :error="error" @again="refetch()" />
    <p v-else-if="!mail" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <header class="top">
        <h1>{{ mail.subject || t('mailing.heldTitle') }}</h1>
        <p class="quiet small">{{ t('mailing.to', { to: addresses.join(', ') }) }}</p>
      </header>
      <ul class="files">
        <li v-for="f in mail.transfer?.files" :key="f.id">
          <span>{{ f.name }}</span>
          <span class="quiet small">{{ said.size(f.size) }}</span>
        </li>
      </ul>
      <p v-if="mail.state !== 'held'" class="terms">{{ t('mailing.decided') }}</p>
      <Sheet v-else :busy="!draft" :label="t('transfers.terms')" class="transfer" @escape="opened = undefined">
        <TransferTerms :writing="writing" without="sealed" />
        <div class="side">
          <p class="small quiet">{{ t('mailing.gives') }}</p>
          <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
          <div class="acts end">
            <button type="button" class="btn btn-primary" :disabled="busy || !draft || !!draft.refused" @click="send">
              <IconPlane aria-hidden="true" />
              {{ t('mailing.send') }}
            </button>
            <button type="button" class="btn btn-text" :disabled="busy" @click="discard">{{ t('mailing.discard') }}</button>
          </div>
        </div>
      </Sheet>
    </template>
  </main>
</template>

<style scoped>
/* Nothing stands at its left here. */
.transfer {
  left: 0;
}
.top {
  display: block;
  margin-bottom: var(--tb-s3);
}
.top p {
  overflow-wrap: anywhere;
}
.files {
  list-style: none;
  margin: 0 0 var(--tb-s3);
  padding: 0;
  border-top: 1px solid var(--tb-rule);
}
.files li {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s4);
  padding: var(--tb-s2) 0;
  border-bottom: 1px solid var(--tb-line);
  overflow-wrap: anywhere;
}
</style>
