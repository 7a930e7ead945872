<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import IconPlane from '~icons/ph/paper-plane-tilt'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import { copyComing } from '../../app/clipboard'
import { useSession } from '../../app/session'
import { tell } from '../../app/toasts'
import Field from '../../parts/Field.vue'
import MiddleName from '../../parts/MiddleName.vue'
import Sheet from '../../parts/Sheet.vue'
import { transferKeys } from '../../queries/transfers'
import { useSaid } from '../../sentences/said'
import { paired, useSending } from '../../uploads/sending'
import { sealedSize, usualHead } from '../../sealed/age'
import { withKey } from '../../sealed/mine'
import { announcedOf, begin, prepare, write } from '../../sealed/sending'
import { isWeak, leastPassphrase } from '../../sealed/words'
import { stemOf } from '../../i18n/words'
import { useWriting } from '../links/writing'
import DropZone from './DropZone.vue'
import { addressesIn } from './recipients'
import OutwardWays from './OutwardWays.vue'
import TransferTerms from './TransferTerms.vue'

/** A transfer being written: what is sent, under which terms, to whom. The link is there once it is made, while the files still arrive. */
const { t } = useI18n()
const said = useSaid()
const route = useRoute()
const router = useRouter()
const sending = useSending()
const queries = useQueryClient()
const store = useSession()
/** Copies of what the practice has. */
const items = ([] as (string | null)[]).concat(route.query.item ?? []).filter((i): i is string => !!i)
const files = ref<File[]>(sending.laid)
sending.laid = []
const to = ref('')
const addresses = computed(() => addressesIn(to.value))
/** While it is written, nothing is told of the files but their sizes. */
const writing = useWriting(items, undefined, 'transfer', (sealed) => ({
  files: files.value.map((f, i) => ({ name: String(i + 1), size: sealed ? sealedSize(f.size, usualHead) : f.size })),
  to: addresses.value,
}))
const { terms, opened, draft, error, body } = writing
const { act, busy, wrong } = useAct()
const message = ref('')
const tellAfter = ref(3)
/** What it is called: by its files, or as the server says of copies. */
const name = computed(() => {
  const [first, ...more] = files.value
  if (items.length || !first) return draft.value?.name ?? ''
  return more.length ? `${stemOf(first.name)} +${more.length}` : stemOf(first.name)
})
const some = computed(() => items.length > 0 || files.value.length > 0)
const bytes = computed(() => draft.value?.bytes ?? 0)
const count = computed(() => draft.value?.files ?? 0)

function add(more: File[]) {
  files.value = [...files.value, ...more]
}
const weak = computed(() => terms.sealed === 'passphrase' && isWeak(terms.passphrase))
async function make() {
  await act(async () => {
    const sealed = terms.sealed && (await prepare(files.value, terms.passphrase))
    const wish = {
      ...body.value,
      items,
      ...(sealed
        ? { files: announcedOf(sealed) }
        : {
            files: files.value.map((f) => ({ name: f.name, size: f.size })),
            name: terms.name || name.value || undefined,
            message: message.value || undefined,
          }),
      to: addresses.value.length ? addresses.value : undefined,
      tellAfterDays: tellAfter.value,
    }
    const coming = data(api.POST('/transfers', { body: wish }))
    const copying = copyComing(coming.then((made) => made.address && withKey(made.address, sealed)))
    const made = await coming
    queries.setQueryData(transferKeys.one(made.id), made)
    if (sealed) {
      const { streams } = await begin(sealed, made, name.value, message.value)
      void write(made.id)
      sending.send(
        made.folderId,
        files.value.map((file, i) => ({ file, announced: made.files[i]!, stream: streams[made.files[i]!.id] })),
      )
    } else sending.send(made.folderId, paired(files.value, made.files))
    const copied = await copying
    if (addresses.value.length) tell(t('transfers.sent', { n: addresses.value.length }, addresses.value.length))
    else if (copied) tell(t('transfers.copied'))
    await router.push({ path: `/outward/transfers/${made.id}`, state: { copied } })
  })
}
</script>

<template>
  <main id="content" class="plain">
    <OutwardWays />
    <header class="top">
      <h1>{{ some && name ? name : t('transfers.send') }}</h1>
      <p v-if="some && draft" class="quiet small">
        {{ t('transfers.sum', { n: count, size: said.size(bytes), at: said.exact(new Date().toISOString()) }, count) }}
      </p>
      <p v-else class="quiet small">{{ t('transfers.lead') }}</p>
    </header>
    <ul v-if="files.length" class="files">
      <li v-for="(f, i) in files" :key="i">
        <span class="no quiet">{{ i + 1 }}</span>
        <MiddleName :name="f.name" whole />
        <span class="quiet small r">{{ said.size(f.size) }}</span>
        <button
          type="button"
          class="go small"
          :aria-label="t('transfers.leaveOne', { name: f.name })"
          @click="files = files.filter((_, j) => j !== i)"
        >
          {{ t('transfers.leave') }}
        </button>
      </li>
    </ul>
    <p v-if="items.length && draft" class="terms">{{ t('transfers.of') }} {{ draft.title }}</p>
    <DropZone :path="some ? 'transfers.drop' : 'transfers.dropNew'" :big="!some" @files="add" />
    <Sheet v-if="some" :busy="!draft && !error" :label="t('transfers.terms')" class="transfer" @escape="opened = undefined">
      <TransferTerms :writing="writing">
        <div v-if="draft" class="consequence">
          <p>
            {{
              addresses.length
                ? t('transfers.holdersTo', { n: addresses.length, size: said.size(bytes) }, addresses.length)
                : t('transfers.holders', { size: said.size(bytes) })
            }}
          </p>
          <p v-if="addresses.length">{{ t('transfers.told', { n: tellAfter }, tellAfter) }}</p>
          <p v-if="terms.sealed">
            {{ t(`transfers.sealed.${addresses.length ? 'toldApart' : terms.sealed}`, { what: t(`transfers.what.${terms.sealed}`) }) }}
          </p>
          <p v-if="weak" class="t-caution">{{ t('transfers.weak', { n: leastPassphrase }) }}</p>
          <p v-if="draft.forbidden" class="t-caution">{{ t('problem.sensitive-content') }}</p>
          <p v-else-if="draft.sensitive.length" class="t-caution">
            {{ draft.sensitive.map((f) => `${f.document}: ${f.shown}`).join('; ') }}
          </p>
        </div>
      </TransferTerms>
      <div class="side">
        <Field v-slot="{ id }" :label="t('transfers.to')" :hint="t('transfers.toHint')" quiet>
          <input
            :id="id"
            v-model="to"
            class="form-control"
            data-field="to"
            autofocus
            autocomplete="off"
            spellcheck="false"
            @keydown.enter="make"
          />
        </Field>
        <Field
          v-slot="{ id }"
          :label="t('transfers.message')"
          :hint="t(terms.sealed ? 'transfers.messageSealed' : 'transfers.messageHint')"
          quiet
        >
          <textarea :id="id" v-model="message" class="form-control" rows="4" maxlength="5000" data-field="message"></textarea>
        </Field>
        <Field v-if="addresses.length" v-slot="{ id }" :label="t('transfers.tellAfter')" quiet>
          <select :id="id" v-model="tellAfter" class="form-control" data-field="tell-after">
            <option v-for="n in [1, 2, 3, 5, 7, 14]" :key="n" :value="n">{{ t('transfers.days', { n }, n) }}</option>
          </select>
        </Field>
        <p class="small quiet">{{ t('transfers.from', { address: store.session?.person.email ?? '' }) }}</p>
        <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
        <div class="acts end">
          <button
            type="button"
            class="btn btn-primary"
            :disabled="busy || !draft || draft.forbidden || !!draft.refused || weak"
            @click="make"
          >
            <IconPlane aria-hidden="true" />
            {{ addresses.length ? t('transfers.sendTo', { n: addresses.length }, addresses.length) : t('transfers.make') }}
          </button>
          <RouterLink class="btn btn-text" to="/outward/transfers">{{ t('transfers.discard') }}</RouterLink>
        </div>
      </div>
    </Sheet>
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
.files {
  list-style: none;
  margin: 0 0 var(--tb-s3);
  padding: 0;
  border-top: 1px solid var(--tb-rule);
}
.files li {
  display: grid;
  grid-template-columns: 24px minmax(0, 1fr) auto auto;
  gap: var(--tb-s3);
  align-items: center;
  min-height: 36px;
  border-bottom: 1px solid var(--tb-line);
}
.consequence p {
  margin: 0;
  padding: var(--tb-s1) 0;
}
</style>
