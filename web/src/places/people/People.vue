<script setup lang="ts">
import { useDirectory } from '../../queries/people'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconUserPlus from '~icons/ph/user-plus'
import IconUsers from '~icons/ph/users-three'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import Failed from '../../app/Failed.vue'
import Rows, { type Column } from '../../parts/Rows.vue'
import AccountRow from './AccountRow.vue'
import GroupRow from './GroupRow.vue'
import InvitationLinks from './InvitationLinks.vue'
import PendingInvitations from './PendingInvitations.vue'
import InvitePerson from './InvitePerson.vue'

/** Accounts and groups, invitations beside them. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { data: directory, error, refetch } = useDirectory()
const writing = ref<'' | 'invite' | 'group'>('')
const groupName = ref('')
const { act, wrong } = useAct()
const administers = computed(() => ['proprietor', 'administrator'].includes(store.session?.standing ?? ''))
const proprietor = computed(() => store.session?.standing === 'proprietor')
const live = computed(() => directory.value?.accounts.filter((a) => !a.ended) ?? [])
const colleagues = computed(() => live.value.filter((a) => a.standing !== 'guest'))
const outside = computed(() => live.value.filter((a) => a.standing === 'guest'))
const ended = computed(() => directory.value?.accounts.filter((a) => a.ended) ?? [])
const pending = computed(() => live.value.filter((a) => a.invited))
const lacking = computed(() => colleagues.value.filter((a) => a.factor === 'none'))
const parts = computed(() => [
  { key: 'colleagues', rows: colleagues.value },
  { key: 'outside', rows: outside.value },
  ...(ended.value.length ? [{ key: 'ended', rows: ended.value }] : []),
])

async function makeGroup() {
  if (
    await act(() => api.POST('/groups', { body: { name: groupName.value } }), { done: t('people.groupMade', { name: groupName.value }) })
  ) {
    writing.value = ''
    groupName.value = ''
  }
}
const columns = computed<Column[]>(() => [
  { words: t('people.columns.name') },
  { words: t('people.columns.standing'), width: 124 },
  { words: t('people.columns.factor'), width: 128 },
  { words: t('people.columns.seen'), width: 104 },
  { words: t('people.columns.reaches'), width: 108 },
  { words: t('people.columns.ends'), width: 112 },
])
</script>

<template>
  <div class="ppl" :class="{ alone: store.session?.standing === 'guest' }">
    <main id="content" class="plain">
      <header>
        <div>
          <h1>{{ t('people.title') }}</h1>
          <p v-if="directory" class="terms">
            {{
              t('people.summary', {
                colleagues: t('people.colleaguesN', { n: said.count(colleagues.length) }, colleagues.length),
                outside: t('people.outsideN', { n: said.count(outside.length).toLowerCase() }, outside.length),
              })
            }}
            <b v-if="administers && lacking.length">{{ t('people.lacking', { n: said.count(lacking.length) }, lacking.length) }}</b>
          </p>
        </div>
        <div v-if="store.session?.standing !== 'guest'" class="acts">
          <a class="btn btn-text" href="/api/people.vcf" :title="t('people.cardsAbout')" download>{{ t('people.cards') }}</a>
          <RouterLink v-if="administers" class="btn btn-text" to="/practice">{{ t('practice.link') }}</RouterLink>
          <button v-if="administers" type="button" class="btn btn-plain" @click="writing = writing === 'group' ? '' : 'group'">
            <IconUsers aria-hidden="true" />
            {{ t('people.makeGroup') }}
          </button>
          <button type="button" class="btn btn-primary" @click="writing = writing === 'invite' ? '' : 'invite'">
            <IconUserPlus aria-hidden="true" />
            {{ t('people.invite') }}
          </button>
        </div>
      </header>
      <InvitePerson v-if="writing === 'invite'" :administers="administers" :proprietor="proprietor" @done="writing = ''" />
      <form v-if="writing === 'group'" class="written acts" @submit.prevent="makeGroup">
        <label for="group-name">{{ t('people.groupName') }}</label>
        <input id="group-name" v-model="groupName" class="form-control" required maxlength="100" autofocus />
        <button class="btn btn-primary btn-small" type="submit">{{ t('people.makeGroup') }}</button>
        <button class="btn btn-text btn-small" type="button" @click="writing = ''">{{ t('common.discard') }}</button>
      </form>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <Failed v-if="error && !directory" :error="error" @again="refetch()" />
      <Rows v-else-if="directory" :columns="columns" :label="t('people.title')" :height="42" :lead="0" class="toned">
        <tbody v-for="part in parts" :key="part.key">
          <tr class="group-row">
            <th colspan="6" scope="rowgroup">
              <b class="with-comma">{{ t(`people.${part.key}`) }}</b>
              {{ t('people.accounts', { n: part.rows.length }, part.rows.length) }}
            </th>
          </tr>
          <AccountRow
            v-for="a in part.rows"
            :key="a.person.id"
            :account="a"
            :administers="administers"
            :proprietor="proprietor"
            :colleagues="colleagues"
          />
        </tbody>
        <tbody v-if="directory.groups.length">
          <tr class="group-row">
            <th colspan="6" scope="rowgroup">
              <b class="with-comma">{{ t('people.groups') }}</b>
              {{ directory.groups.length }}
            </th>
          </tr>
          <GroupRow v-for="g in directory.groups" :key="g.id" :group="g" :directory="directory" :administers="administers" />
        </tbody>
      </Rows>
      <p v-else class="quiet">{{ t('common.loading') }}</p>
    </main>
    <aside v-if="directory && store.session?.standing !== 'guest'" class="inv">
      <InvitationLinks v-if="administers" :links="directory.links" />
      <PendingInvitations :accounts="pending" />
    </aside>
  </div>
</template>

<style scoped>
.ppl {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 344px;
  height: calc(100dvh - 52px);
}
.ppl.alone {
  display: block;
}
.rows {
  margin-top: var(--tb-s3);
}
.inv {
  background: var(--tb-sheet);
  border-left: 1px solid var(--tb-line);
  padding: var(--tb-s5) var(--tb-s6);
  overflow-y: auto;
}
.inv h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
  margin: 18px 0 0;
}
.written {
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 10px 12px;
  margin-top: 10px;
}
.written .form-control {
  max-width: 240px;
}
@media (max-width: 900px) {
  .ppl {
    display: block;
    height: auto;
  }
  .inv {
    border: 0;
  }
}
</style>
