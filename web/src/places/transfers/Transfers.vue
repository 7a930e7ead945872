<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import IconPlane from '~icons/ph/paper-plane-tilt'
import type { Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import Door from '../../parts/Door.vue'
import Terms from '../../parts/Terms.vue'
import { useTransfers } from '../../queries/transfers'
import { useSaid } from '../../sentences/said'
import { useSending } from '../../uploads/sending'
import { useTransferActs } from './acts'
import DropZone from './DropZone.vue'
import OutwardWays from './OutwardWays.vue'
import RecipientLine from './RecipientLine.vue'
import { useStops } from './recipients'
import TransferName from './TransferName.vue'
import WaitingMails from './WaitingMails.vue'

/** What was sent: who was told, who opened it, who fetched; and what is left of those that are over. */
const { t } = useI18n()
const said = useSaid()
const router = useRouter()
const showsOver = ref(false)
const { data: out, error, refetch } = useTransfers(false)
const { data: over } = useTransfers(true, showsOver)
const { end, prolong, busy } = useTransferActs()
const { isLate } = useStops()
const open = computed(() => out.value?.filter((o) => o.state === 'open') ?? [])
const people = computed(() => new Set(open.value.flatMap((o) => o.recipients.filter((r) => r.address).map((r) => r.address))).size)
const late = computed(() => open.value.reduce((sum, o) => sum + o.recipients.filter((r) => isLate(o, r)).length, 0))
const arriving = (o: Schemas['Transfer']) => o.state === 'open' && o.received < o.bytes
const sending = useSending()
function send(files: File[]) {
  sending.laid = files
  void router.push('/outward/send')
}
</script>

<template>
  <main id="content" class="plain out">
    <OutwardWays />
    <header>
      <div>
        <h1>{{ t('transfers.title') }}</h1>
        <p v-if="out" class="terms">
          <template v-if="open.length">
            <b>{{ t('transfers.out.some', { n: open.length }, open.length) }}</b>
            {{ ' ' }}{{ people ? t('transfers.out.people', { n: people }, people) : t('transfers.out.nobody') }}
            <b v-if="late">{{ t('transfers.out.late', { n: late }, late) }}</b>
          </template>
          <b v-else>{{ t('transfers.out.none') }}</b>
        </p>
      </div>
      <div class="acts">
        <RouterLink class="btn btn-primary" to="/outward/send">
          <IconPlane aria-hidden="true" />
          {{ t('transfers.send') }}
        </RouterLink>
      </div>
    </header>
    <WaitingMails />
    <Failed v-if="error && !out" :error="error" @again="refetch()" />
    <p v-else-if="!out" class="quiet">{{ t('common.loading') }}</p>
    <div v-else-if="!out.length" class="empty">
      <h2>{{ t('transfers.none') }}</h2>
      <DropZone path="transfers.dropNew" big @files="send" />
    </div>
    <template v-else>
      <div class="head small quiet only-wide" aria-hidden="true">
        <span>{{ t('transfers.recipient') }}</span>
        <span>{{ t('transfers.toldAt') }}</span>
        <span>{{ t('transfers.opened') }}</span>
        <span>{{ t('transfers.fetched') }}</span>
      </div>
      <article v-for="o in out" :key="o.id" :data-transfer="o.name">
        <Door :state="o.state === 'open' ? 'open' : 'closed'" />
        <div class="what">
          <p>
            <RouterLink class="name" :to="`/outward/transfers/${o.id}`"><TransferName :transfer="o" /></RouterLink>
            <span class="small quiet">{{ said.when(o.createdAt) }}</span>
            <b v-if="arriving(o)">{{ t('transfers.arriving', { size: said.size(o.received) }) }}</b>
          </p>
          <p class="terms listed"><Terms :sentence="o.sentence" /></p>
        </div>
        <div class="ends">
          <template v-if="o.state === 'open'">
            <span :title="said.full(o.until)">{{ said.ahead(o.until) }}</span>
            <button type="button" class="plus" :disabled="busy" :aria-label="`${t('transfers.week')}: ${o.name}`" @click="prolong(o)">
              {{ t('transfers.week') }}
            </button>
            <button
              type="button"
              class="btn btn-plain btn-small"
              :disabled="busy"
              :aria-label="`${t('transfers.end')}: ${o.name}`"
              @click="end(o)"
            >
              {{ t('transfers.end') }}
            </button>
          </template>
          <span v-else class="quiet">{{ t('transfers.endedSoon') }}</span>
        </div>
        <ul class="recipients">
          <RecipientLine v-for="r in o.recipients" :key="r.address" :transfer="o" :recipient="r" />
        </ul>
      </article>
    </template>
    <p class="after">
      <button v-if="!showsOver" type="button" class="go" @click="showsOver = true">{{ t('transfers.moreOver') }}</button>
    </p>
    <section v-if="over?.length" class="over">
      <h2 class="small">{{ t('transfers.over') }}</h2>
      <article v-for="o in over" :key="o.id" :data-transfer="o.name">
        <Door state="closed" />
        <div class="what">
          <p>
            <RouterLink class="name quiet" :to="`/outward/transfers/${o.id}`"><TransferName :transfer="o" /></RouterLink>
            <span class="small quiet">{{ said.when(o.createdAt) }}</span>
          </p>
          <p class="terms listed"><Terms :sentence="o.sentence" /></p>
        </div>
        <span class="ends quiet">{{ o.destroyedAt && t('transfers.destroyedAt', { at: said.exact(o.destroyedAt) }) }}</span>
        <ul class="recipients">
          <RecipientLine v-for="r in o.recipients" :key="r.address" :transfer="o" :recipient="r" />
        </ul>
      </article>
    </section>
  </main>
</template>

<style scoped>
.head {
  display: grid;
  grid-template-columns: 216px 186px 186px minmax(0, 1fr);
  padding: var(--tb-s1) 0 var(--tb-s1) 36px;
  border: solid var(--tb-rule);
  border-width: 1px 0;
}
article {
  display: grid;
  grid-template-columns: 36px minmax(0, 1fr) auto;
  padding: var(--tb-s2) 0;
  border-bottom: 1px solid var(--tb-rule);
}
.what p {
  margin: 0;
}
.what b {
  margin-left: var(--tb-s2);
}
.what .name {
  font-weight: 620;
  margin-right: var(--tb-s2);
}
.ends {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  align-self: start;
}
.recipients {
  grid-column: 2 / -1;
  list-style: none;
  margin: 0;
  padding: 0;
}
.after {
  margin: var(--tb-s3) 0;
}
@media (max-width: 900px) {
  .ends {
    grid-column: 2 / -1;
    flex-wrap: wrap;
  }
  .recipients {
    grid-column: 1 / -1;
  }
}
</style>
