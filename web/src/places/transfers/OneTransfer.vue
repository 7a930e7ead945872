<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconCheck from '~icons/ph/check'
import IconCopy from '~icons/ph/copy'
import IconPlane from '~icons/ph/paper-plane-tilt'
import { api, data, type Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import Missing from '../../app/Missing.vue'
import { useSession } from '../../app/session'
import { tell } from '../../app/toasts'
import Field from '../../parts/Field.vue'
import Terms from '../../parts/Terms.vue'
import { useTransfer } from '../../queries/transfers'
import { useKept } from '../../sealed/mine'
import { join, pairedSealed, write } from '../../sealed/sending'
import { useSaid } from '../../sentences/said'
import { paired, useSending } from '../../uploads/sending'
import { useTransferActs } from './acts'
import DropZone from './DropZone.vue'
import FileLine from './FileLine.vue'
import OutwardWays from './OutwardWays.vue'
import RecipientLine from './RecipientLine.vue'
import { addressesIn } from './recipients'

/** One transfer: what of it has arrived, under which terms it is out, and what became of it for each recipient. */
const props = defineProps<{ id: string }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const sending = useSending()
const { data: transfer, error, refetch } = useTransfer(() => props.id)
const { copy, copyOpener, end, prolong, leaveOut, act, busy, wrong } = useTransferActs()
const { kept, look } = useKept(transfer)
// What did not reach the server before is sent now.
watch(kept, (k) => k && !k.written && void write(props.id).catch(() => undefined))
const nameOf = (f: Schemas['TransferFile']) => kept.value?.list.files.find((l) => l.id === f.id)?.name ?? f.name
const copied = ref(history.state?.copied === true)
const to = ref('')
const message = ref('')
const addresses = computed(() => addressesIn(to.value))
const open = computed(() => transfer.value?.state === 'open' || transfer.value?.state === 'not-yet')
/** How much is here, with what this page is sending at the moment. */
const received = computed(
  () => transfer.value?.files.reduce((sum, f) => sum + Math.max(f.received, f.here ? f.size : (sending.of(f.id)?.sent ?? 0)), 0) ?? 0,
)
const people = computed(() => transfer.value?.recipients.filter((r) => r.address).length ?? 0)

/** Files that were announced are gone on with; others join. */
async function add(files: File[]) {
  const now = transfer.value!
  if (now.sealed) return addSealed(now, files)
  const known = paired(files, now.files)
  sending.send(now.folderId, known)
  const more = files.filter((f) => !known.some((k) => k.file === f))
  if (!more.length) return
  await act(async () => {
    const body = more.map((f) => ({ name: f.name, size: f.size }))
    const grown = await data(api.POST('/transfers/{id}/files', { params: { path: { id: now.id } }, body }))
    sending.send(
      grown.folderId,
      paired(
        more,
        grown.files.filter((f) => !now.files.some((o) => o.id === f.id)),
      ),
    )
  })
}
/** The file that stopped is chosen again; another one is not taken in its place. */
function again(files: File[]) {
  const now = transfer.value!
  const known = now.sealed ? kept.value && pairedSealed(files, now, kept.value) : paired(files, now.files)
  if (known?.length) sending.send(now.folderId, known)
  else tell(t('transfers.notTheSame'))
}
async function addSealed(now: Schemas['Transfer'], files: File[]) {
  if (!kept.value) return
  const known = pairedSealed(files, now, kept.value)
  sending.send(now.folderId, known)
  const more = files.filter((f) => !known.some((k) => k.file === f))
  if (!more.length) return
  await act(async () => {
    let added: Schemas['TransferFile'][] = []
    const { streams } = await join(now.id, kept.value!, more, async (body) => {
      const grown = await data(api.POST('/transfers/{id}/files', { params: { path: { id: now.id } }, body }))
      return (added = grown.files.filter((f) => !now.files.some((o) => o.id === f.id)))
    })
    await look()
    await write(now.id)
    sending.send(
      now.folderId,
      more.map((file, i) => ({ file, announced: added[i]!, stream: streams[added[i]!.id] })),
    )
  })
}
async function send() {
  const all = addresses.value
  const body = { to: all, message: transfer.value?.sealed ? '' : message.value || transfer.value?.message }
  if (
    await act(() => api.POST('/transfers/{id}/recipients', { params: { path: { id: props.id } }, body }), {
      done: t('transfers.sent', { n: all.length }, all.length),
    })
  )
    to.value = message.value = ''
}
</script>

<template>
  <Missing v-if="(error as { problem?: { status: number } } | null)?.problem?.status === 404" />
  <main v-else id="content" class="plain">
    <OutwardWays />
    <Failed v-if="error && !transfer" :error="error" @again="refetch()" />
    <p v-else-if="!transfer" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <header class="top">
        <div>
          <h1>{{ kept?.list.name || transfer.name }}</h1>
          <p class="small quiet">
            {{
              t(
                'transfers.sum',
                { n: transfer.files.length, size: said.size(transfer.bytes), at: said.exact(transfer.createdAt) },
                transfer.files.length,
              )
            }}
            <b v-if="open && received < transfer.bytes">{{ t('transfers.arriving', { size: said.size(received) }) }}</b>
            <template v-else-if="open">{{ t('transfers.arrived') }}</template>
          </p>
        </div>
        <div v-if="transfer.address" class="address">
          <span v-if="copied" class="small" role="status">
            <IconCheck class="i i-s ok" aria-hidden="true" />
            <b>{{ t('transfers.copied') }}</b>
          </span>
          <span class="no quiet small">{{ transfer.address.replace(/^https?:\/\//, '') }}</span>
          <button type="button" class="btn btn-plain" @click="copy(transfer, kept)">
            <IconCopy aria-hidden="true" />
            {{ t('transfers.copy') }}
          </button>
          <button v-if="kept" type="button" class="btn btn-plain" @click="copyOpener(kept)">
            {{ t(kept.passphrase ? 'transfers.copyPassphrase' : 'transfers.copyKey') }}
          </button>
        </div>
        <b v-else-if="!open">{{ t('transfers.isOver') }}</b>
      </header>
      <div class="file-lines" role="table" :aria-label="t('transfers.file')">
        <FileLine
          v-for="(f, i) in transfer.files"
          :key="f.id"
          :n="i + 1"
          :file="f"
          :name="nameOf(f)"
          :open="open"
          :alone="transfer.files.length === 1"
          @leave="leaveOut(transfer, { ...f, name: nameOf(f) })"
          @again="again"
        />
      </div>
      <p v-if="transfer.sealed" class="small quiet">
        {{ t(kept ? `transfers.sealed.${transfer.sealed}` : 'transfers.sealed.elsewhere') }}
        <template v-if="kept && people">
          {{ ' ' }}{{ t('transfers.sealed.toldApart', { what: t(`transfers.what.${transfer.sealed}`) }) }}
        </template>
      </p>
      <DropZone v-if="open && (!transfer.sealed || kept)" path="transfers.drop" @files="add" />
      <section class="out">
        <div class="terms-line">
          <p class="terms"><Terms :sentence="transfer.sentence" /></p>
          <div v-if="open" class="acts">
            <button type="button" class="plus" :disabled="busy" @click="prolong(transfer)">{{ t('transfers.week') }}</button>
            <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="end(transfer)">{{ t('transfers.end') }}</button>
          </div>
          <span v-else-if="transfer.destroyedAt" class="quiet">
            {{ t('transfers.destroyedAt', { at: said.exact(transfer.destroyedAt) }) }}
          </span>
        </div>
        <ul v-if="transfer.recipients.length" class="recipients" :aria-label="t('transfers.to')">
          <RecipientLine v-for="r in transfer.recipients" :key="r.address" :transfer="transfer" :recipient="r" />
        </ul>
        <p v-if="people && open" class="small quiet">{{ t('transfers.told', { n: transfer.tellAfterDays }, transfer.tellAfterDays) }}</p>
      </section>
      <form v-if="open" class="more" @submit.prevent="send">
        <Field v-slot="{ id: field }" :label="t('transfers.to')" :hint="t('transfers.toHint')" quiet>
          <input :id="field" v-model="to" class="form-control" data-field="to" autocomplete="off" spellcheck="false" />
        </Field>
        <Field v-if="!transfer.sealed" v-slot="{ id: field }" :label="t('transfers.message')" :hint="t('transfers.messageHint')" quiet>
          <textarea :id="field" v-model="message" class="form-control" rows="2" maxlength="5000" :placeholder="transfer.message"></textarea>
        </Field>
        <p class="small quiet">
          {{ t(received < transfer.bytes ? 'transfers.from' : 'transfers.fromDone', { address: store.session?.person.email ?? '' }) }}
        </p>
        <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
        <button type="submit" class="btn btn-primary" :disabled="busy || !addresses.length">
          <IconPlane aria-hidden="true" />
          {{ addresses.length ? t('transfers.sendTo', { n: addresses.length }, addresses.length) : t('transfers.sendMore') }}
        </button>
      </form>
    </template>
  </main>
</template>

<style scoped>
.top {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s4);
  margin-bottom: var(--tb-s3);
}
.address {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
}
.ok {
  color: var(--tb-done);
}
.file-lines {
  border-top: 1px solid var(--tb-rule);
  margin-bottom: var(--tb-s2);
}
.out {
  margin-top: var(--tb-s4);
}
.terms-line {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s4);
  padding-bottom: var(--tb-s2);
  border-bottom: 1px solid var(--tb-ink);
}
.terms-line p {
  margin: 0;
}
.recipients {
  list-style: none;
  margin: var(--tb-s2) 0;
  padding: 0;
}
.more {
  display: grid;
  gap: var(--tb-s2);
  justify-items: start;
  max-width: 560px;
  margin-top: var(--tb-s4);
}
.more > :not(button),
.more :deep(.form-control) {
  width: 100%;
}
@media (max-width: 900px) {
  .top,
  .terms-line,
  .address {
    flex-direction: column;
    align-items: flex-start;
    gap: var(--tb-s2);
  }
  .address .no {
    overflow-wrap: anywhere;
  }
}
</style>
