<script setup lang="ts">
import { useFillable } from '../../queries/fillings'
import { useDocument } from '../../queries/documents'
import { computed, ref, watch } from 'vue'
import { useSession } from '../../app/session'
import { writtenAt } from '../../app/written'
import { useRoute } from 'vue-router'
import Remarks from '../remarks/Remarks.vue'
import ParticularsOn from '../particulars/ParticularsOn.vue'
import TagsOn from '../tags/TagsOn.vue'
import { useI18n } from 'vue-i18n'
import IconCaret from '~icons/ph/caret-down'
import IconCopy from '~icons/ph/copy'
import IconPlane from '~icons/ph/paper-plane-tilt'
import IconX from '~icons/ph/x'
import type { Schemas } from '../../api/client'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import { useSaid } from '../../sentences/said'
import { stemOf } from '../../i18n/words'
import EventWords from '../../sentences/EventWords.vue'
import Failed from '../../app/Failed.vue'
import StanceWord from '../following/StanceWord.vue'
import Reach from '../sharing/Reach.vue'
import History from '../versions/History.vue'
import Consequences from '../sharing/Consequences.vue'
import { useCheckout } from '../checkout/acts'
import RunsOn from '../decisions/RunsOn.vue'
import HeldByAnother from '../checkout/HeldByAnother.vue'
import HeldByMe from '../checkout/HeldByMe.vue'
import { useDeletion } from '../deletion/acts'
import FirstLook from './FirstLook.vue'
import NameForm from './NameForm.vue'

/** All that is known of one document: first look, reach, versions, trail. Sections fold; there are no tabs. */
const props = defineProps<{ id: string; naming?: boolean }>()
const emit = defineEmits<{
  close: []
  giveOut: [id: string]
  ask: [id: string]
  look: [document: Schemas['Document'], version?: number]
  deleted: [ids: string[]]
}>()
const store = useSession()
const route = useRoute()
/** What was said is asked for once one wants to read it. */
const talking = ref(!!route.query.remark)
const picked = ref(typeof route.query.remark === 'string' ? route.query.remark : undefined)
const { t } = useI18n()
const said = useSaid()
const { data: doc, error, refetch } = useDocument(() => props.id)
const counting = computed(() => doc.value?.versions.find((v) => v.counts))
const content = computed(() => `/api/documents/${props.id}/content?version=${counting.value?.number ?? 1}`)
const lookable = computed(() => doc.value && doc.value.look !== 'none')
const may = (cap: string) => doc.value?.may.includes(cap) ?? false

/** Whether it can be written here, and what I may do to it. */
const written = computed(() => (may('download') ? writtenAt(props.id, counting.value?.mediaType) : undefined))
const writes = computed(() => {
  if (may('change')) return 'verb'
  return may('propose') && written.value?.startsWith('/write/') ? 'proposeVerb' : 'readVerb'
})
/** Whether it asks something, and what was handed in. */
const { data: form } = useFillable(
  () => props.id,
  () => counting.value?.mediaType === 'text/markdown',
)
const naming = ref(props.naming)
watch(
  () => props.naming,
  (n) => n && (naming.value = true),
)
const { remove, busy: deleting } = useDeletion()
const { take, busy: taking } = useCheckout()
function removeIt() {
  if (doc.value) void remove([props.id], stemOf(doc.value.name), may('share'), undefined, () => emit('deleted', [props.id]))
}

async function copyAddress() {
  if (doc.value && (await copyText(`${location.origin}/d/${doc.value.ref}`))) tell(t('slip.addressCopied', { ref: doc.value.ref }))
}
/** The request by which it is with its parties, or was signed. */
const signing = computed(() => doc.value?.state?.signing)
</script>

<template>
  <aside class="slip" :aria-label="t('slip.label', { ref: doc?.ref ?? '' })">
    <Failed v-if="error && !doc" :error="error" @again="refetch()" />
    <template v-else-if="doc">
      <header>
        <div class="acts" style="justify-content: space-between">
          <span class="no quiet">{{ doc.ref }}</span>
          <span class="acts quiet" style="gap: 14px">
            <button type="button" :aria-label="t('slip.address')" :title="t('slip.address')" @click="copyAddress">
              <IconCopy aria-hidden="true" />
            </button>
            <button type="button" :aria-label="t('slip.closeSlip')" @click="$emit('close')"><IconX aria-hidden="true" /></button>
          </span>
        </div>
        <NameForm v-if="naming" :id="doc.id" :name="doc.name" kind="document" :may-ending="may('manage')" @done="naming = false" />
        <h2 v-else :title="doc.name">{{ stemOf(doc.name) }}</h2>
        <div class="acts wrap">
          <button v-if="may('share')" type="button" class="btn btn-plain btn-small" @click="emit('giveOut', doc.id)">
            <IconPlane class="i i-s" aria-hidden="true" />
            {{ t('dossier.giveOut') }}
          </button>
          <RouterLink v-if="written" class="btn btn-plain btn-small" :to="written" data-write>
            {{ t(`writing.${writes}`) }}
          </RouterLink>
          <RouterLink v-if="form?.fills" class="btn btn-plain btn-small" :to="`/fill/${doc.id}`" data-fill>
            {{ t('fillings.verb') }}
          </RouterLink>
          <RouterLink
            v-if="form?.reads && (form.fields || form.handed)"
            class="btn btn-plain btn-small"
            :to="`/answers/${doc.id}`"
            data-answers
          >
            {{ form.handed ? t('fillings.answersN', { n: form.handed }) : t('fillings.answers') }}
          </RouterLink>
          <button v-if="lookable" type="button" class="btn btn-plain btn-small" @click="emit('look', doc)">{{ t('slip.open') }}</button>
          <button
            v-if="may('change') && doc.state?.state !== 'review' && doc.state?.state !== 'parties'"
            type="button"
            class="btn btn-plain btn-small"
            @click="emit('ask', doc.id)"
          >
            {{ t('decisions.ask.verb') }}
          </button>
          <RouterLink v-if="signing" class="btn btn-plain btn-small" :to="`/signing/${signing}`">{{ t('signing.toRequest') }}</RouterLink>
          <RouterLink
            v-else-if="may('change') && may('share') && lookable"
            class="btn btn-plain btn-small"
            :to="`/signing/new/${doc.id}`"
            data-sign
          >
            {{ t('signing.verb') }}
          </RouterLink>
          <button
            v-if="may('change') && !doc.held"
            type="button"
            class="btn btn-plain btn-small"
            :disabled="taking"
            @click="take([doc.id], doc.name)"
          >
            {{ t('checkout.do') }}
          </button>
          <a v-if="may('download')" class="btn btn-plain btn-small" :href="`${content}&download`" download>
            {{ t('common.downloadSize', { size: said.size(counting?.size ?? 0) }) }}
          </a>
        </div>
      </header>
      <HeldByMe v-if="doc.held?.byMe" :document="doc" :held="doc.held" />
      <HeldByAnother v-else-if="doc.held" :document="doc" :held="doc.held" />
      <section v-if="lookable && (counting?.size ?? 0) > 0" style="padding: 12px 20px 12px">
        <FirstLook :document="doc" :content="content" :size="counting?.size ?? 0" @look="emit('look', doc)" />
      </section>
      <section v-if="store.session?.standing !== 'guest' || doc.state?.state === 'review'">
        <details open>
          <summary>
            <span>{{ t('decisions.slip') }}</span>
            <IconCaret aria-hidden="true" />
          </summary>
          <RunsOn :document="doc.id" :state="doc.state" />
        </details>
      </section>
      <Reach :item="doc.id" kind="document" :dossier="doc.dossierCode" />
      <section>
        <details :open="doc.versions.length > 1">
          <summary>
            <span v-if="counting">{{ t('slip.version', { n: counting.number, when: said.when(counting.at) }) }}</span>
            <IconCaret aria-hidden="true" />
          </summary>
          <History :document="doc" @look="emit('look', doc!, $event)" />
        </details>
      </section>
      <ParticularsOn :document="doc.id" :may-change="may('change')" />
      <section>
        <details open>
          <summary>
            <span>{{ t('tags.slip') }}</span>
            <IconCaret aria-hidden="true" />
          </summary>
          <TagsOn :document="doc.id" :may-change="may('change')" />
        </details>
      </section>
      <section>
        <details :open="!!$route.query.remark || undefined" @toggle="talking = ($event.target as HTMLDetailsElement).open">
          <summary>
            <span>{{ t('remarks.title') }}</span>
            <IconCaret aria-hidden="true" />
          </summary>
          <Remarks v-if="talking" :item="doc.id" :picked="picked" @pick="picked = $event" />
        </details>
      </section>
      <section>
        <details open>
          <summary>
            <span>{{ t('slip.trail', { n: doc.eventCount, when: said.day(doc.versions.at(-1)?.at ?? '') }, doc.eventCount) }}</span>
            <IconCaret aria-hidden="true" />
          </summary>
          <ul class="trail">
            <li v-for="e in doc.events" :key="e.id">
              <time :datetime="e.at" :title="said.full(e.at)">{{ said.when(e.at) }}</time>
              <EventWords :event="e" />
            </li>
          </ul>
          <StanceWord :id="doc.id" kind="document" />
          <RouterLink v-if="store.session?.standing !== 'guest'" class="go small" :to="{ path: '/trail', query: { item: doc.id } }">
            {{ t('evidence.link') }}
          </RouterLink>
        </details>
      </section>
      <section v-if="may('change') || doc.mayDelete" class="last">
        <p v-if="may('change')" class="small">
          <button type="button" class="go" @click="naming = true">{{ t('slip.rename') }}</button>
        </p>
        <div v-if="doc.mayDelete && !doc.held" class="remove">
          <button type="button" class="go small" :disabled="deleting" aria-describedby="deletes" @click="removeIt">
            {{ t('deletion.do') }}
          </button>
          <div id="deletes"><Consequences :what="{ delete: [id] }" /></div>
        </div>
      </section>
    </template>
    <p v-else class="quiet" style="padding: 20px">{{ t('common.loading') }}</p>
  </aside>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
.last {
  padding-block: var(--tb-s2);
}
.remove {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: var(--tb-s3);
  align-items: baseline;
}
.trail :deep(.x) {
  display: block;
  color: var(--tb-quiet);
}
.trail :deep(b) {
  font-weight: 560;
}
.trail :deep(a) {
  color: inherit;
}
@media (max-width: 900px) {
  .slip {
    position: fixed;
    inset: 48px 0 60px;
    z-index: var(--tb-layer-slip);
    border: 0;
    border-top: 2px solid var(--tb-ink);
  }
}
</style>
