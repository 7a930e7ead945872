<script setup lang="ts">
import { useDirectory } from '../../queries/people'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconUserPlus from '~icons/ph/user-plus'
import IconUsers from '~icons/ph/users-three'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import Failed from '../../app/Failed.vue'
import EndAccount from './EndAccount.vue'
import GroupRow from './GroupRow.vue'
import InvitationLinks from './InvitationLinks.vue'
import InvitePerson from './InvitePerson.vue'

/** Accounts and groups, invitations beside them. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { data: directory, error, refetch } = useDirectory()
const writing = ref<'' | 'invite' | 'group'>('')
const ending = ref('')
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
const setStanding = (a: Schemas['Account'], standing: string) =>
  act(() => api.PUT('/people/{id}/standing', { params: { path: { id: a.person.id } }, body: { standing } }), {
    done: t('people.standingSet', { name: a.person.name }),
  })
const back = (a: Schemas['Account']) =>
  act(() => api.POST('/people/{id}/return', { params: { path: { id: a.person.id } } }), {
    done: t('people.isBack', { name: a.person.name }),
  })
const again = (a: Schemas['Account']) =>
  act(() => api.POST('/people/{id}/invitation', { params: { path: { id: a.person.id } } }), {
    done: t('people.sentAgain', { name: a.person.name }),
  })
const takeBack = (a: Schemas['Account']) =>
  act(() => api.DELETE('/people/{id}/invitation', { params: { path: { id: a.person.id } } }), {
    done: t('people.takenBack', { name: a.person.name }),
  })
const mayEnd = (a: Schemas['Account']) =>
  administers.value &&
  a.standing !== 'proprietor' &&
  (a.standing !== 'administrator' || proprietor.value) &&
  a.person.id !== store.session?.person.id
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
      <table v-else-if="directory" class="register toned">
        <colgroup>
          <col />
          <col style="width: 124px" />
          <col class="c-factor" style="width: 128px" />
          <col class="c-seen" style="width: 104px" />
          <col style="width: 108px" />
          <col style="width: 112px" />
        </colgroup>
        <thead>
          <tr>
            <th scope="col">{{ t('people.columns.name') }}</th>
            <th scope="col">{{ t('people.columns.standing') }}</th>
            <th scope="col" class="c-factor">{{ t('people.columns.factor') }}</th>
            <th scope="col" class="c-seen">{{ t('people.columns.seen') }}</th>
            <th scope="col">{{ t('people.columns.reaches') }}</th>
            <th scope="col">{{ t('people.columns.ends') }}</th>
          </tr>
        </thead>
        <tbody v-for="part in parts" :key="part.key">
          <tr class="group-row">
            <th colspan="6" scope="rowgroup">
              <b class="with-comma">{{ t(`people.${part.key}`) }}</b>
              {{ t('people.accounts', { n: part.rows.length }, part.rows.length) }}
            </th>
          </tr>
          <template v-for="a in part.rows" :key="a.person.id">
            <tr :data-person="a.person.name" :aria-selected="ending === a.person.id">
              <td>
                <span class="name">{{ a.person.name }}</span>
                <span class="s">{{ [a.person.organisation, a.person.email].filter(Boolean).join(', ') }}</span>
              </td>
              <td>
                <select
                  v-if="proprietor && a.standing !== 'guest' && a.standing !== 'proprietor' && !a.ended"
                  class="w choice"
                  :value="a.standing"
                  :aria-label="t('people.standingOf', { name: a.person.name })"
                  @change="setStanding(a, ($event.target as HTMLSelectElement).value)"
                >
                  <option v-for="s in ['administrator', 'colleague', 'proprietor']" :key="s" :value="s">
                    {{ t(`people.standing.${s}`) }}
                  </option>
                </select>
                <template v-else>{{ t(`people.standing.${a.standing}`) }}</template>
                <span class="s">{{ a.person.role }}</span>
              </td>
              <td class="c-factor">
                <template v-if="a.standing === 'guest' && a.factor === 'none'">{{ t('people.byCode') }}</template>
                <b v-else-if="a.factor === 'none'" class="t-caution">{{ t('people.factor.none') }}</b>
                <template v-else-if="a.factor">{{ t(`people.factor.${a.factor}`) }}</template>
              </td>
              <td class="ev c-seen">
                <template v-if="a.seen">{{ said.when(a.seen) }}</template>
                <span v-else class="quiet">{{ t('people.never') }}</span>
              </td>
              <td>
                <template v-if="a.measured">
                  {{ t('people.dossiers', { n: a.dossiers }, a.dossiers) }}
                  <span class="s">{{ t('common.documents', { n: a.documents }, a.documents) }}</span>
                </template>
              </td>
              <td>
                <span v-if="a.ends" :title="said.full(a.ends)">{{ said.when(a.ends) }}</span>
                <span v-else-if="a.ended" class="quiet">{{ said.when(a.ended) }}</span>
                <span v-else class="quiet">{{ t('desk.noEnd') }}</span>
                <span class="s">
                  <button v-if="a.ended && administers" type="button" class="go" @click="back(a)">{{ t('people.bringBack') }}</button>
                  <button
                    v-else-if="mayEnd(a)"
                    type="button"
                    class="go"
                    :aria-expanded="ending === a.person.id"
                    @click="ending = ending === a.person.id ? '' : a.person.id"
                  >
                    {{ t('people.endAll') }}
                  </button>
                </span>
              </td>
            </tr>
            <tr v-if="ending === a.person.id" class="ending">
              <td colspan="6">
                <EndAccount :account="a" :successors="colleagues.filter((c) => c.person.id !== a.person.id)" @done="ending = ''" />
              </td>
            </tr>
          </template>
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
      </table>
      <p v-else class="quiet">{{ t('common.loading') }}</p>
    </main>
    <aside v-if="directory && store.session?.standing !== 'guest'" class="inv">
      <InvitationLinks v-if="administers" :links="directory.links" />
      <template v-if="pending.length">
        <h2>{{ t('people.notYet') }}</h2>
        <ul class="used">
          <li v-for="a in pending" :key="a.person.id">
            <span>
              <b>{{ a.person.name }}</b>
              <br />
              <span class="small quiet">
                {{ t('people.invitedWhen', { when: said.when(a.invited!), by: a.invitedBy ?? '' }) }}{{ ' ' }}
                <template v-if="a.invitationEnds">
                  {{
                    new Date(a.invitationEnds) < said.now.value
                      ? t('people.lapsed')
                      : t('people.lapses', { when: said.when(a.invitationEnds) })
                  }}
                </template>
              </span>
            </span>
            <span class="acts small">
              <button type="button" class="go" @click="again(a)">{{ t('people.again') }}</button>
              <button type="button" class="go" @click="takeBack(a)">{{ t('people.takeBack') }}</button>
            </span>
          </li>
        </ul>
      </template>
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
.register {
  margin-top: 12px;
}
.register td {
  height: 42px;
  padding-top: 4px;
  cursor: default;
}
.group-row th {
  height: 30px;
  font-weight: 400;
  background: none;
  border-bottom: 1px solid var(--tb-rule);
  color: var(--tb-ink);
}
.inv {
  background: var(--tb-sheet);
  border-left: 1px solid var(--tb-line);
  padding: 20px 24px;
  overflow-y: auto;
}
.inv h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
  margin: 18px 0 0;
}
.used li {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  padding: 8px 0;
  border-bottom: 1px solid var(--tb-line);
  font-size: 0.875rem;
  line-height: 19px;
}
.used li > span:first-child {
  min-width: 0;
  overflow-wrap: anywhere;
}
.used .acts {
  flex: none;
  gap: 12px;
  align-items: flex-start;
}
.ending td {
  padding: 0 0 10px !important;
  height: auto !important;
  white-space: normal !important;
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
  .c-factor,
  .c-seen {
    display: none;
  }
  .inv {
    border: 0;
  }
}
</style>
