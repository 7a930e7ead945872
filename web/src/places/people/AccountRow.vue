<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSession } from '../../app/session'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useSaid } from '../../sentences/said'
import EndAccount from './EndAccount.vue'

/** One account: who, as what, how they sign in, what they reach, and its end. */
const props = defineProps<{ account: Schemas['Account']; administers: boolean; proprietor: boolean; colleagues: Schemas['Account'][] }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { act } = useAct()
const ending = ref(false)
const standings = computed(() =>
  (['administrator', 'colleague', 'proprietor'] as const).map((s) => ({
    value: s as Schemas['Account']['standing'],
    words: t(`people.standing.${s}`),
  })),
)
const successors = computed(() => props.colleagues.filter((c) => c.person.id !== props.account.person.id))
const mayEnd = computed(
  () =>
    props.administers &&
    props.account.standing !== 'proprietor' &&
    (props.account.standing !== 'administrator' || props.proprietor) &&
    props.account.person.id !== store.session?.person.id,
)
const path = { id: props.account.person.id }
const setStanding = (standing: string) =>
  act(() => api.PUT('/people/{id}/standing', { params: { path }, body: { standing } }), {
    done: t('people.standingSet', { name: props.account.person.name }),
    aloud: true,
  })
const back = () =>
  act(() => api.POST('/people/{id}/return', { params: { path } }), {
    done: t('people.isBack', { name: props.account.person.name }),
    aloud: true,
  })
</script>

<template>
  <tr :data-person="account.person.name" :aria-selected="ending">
    <td class="f-main">
      <span class="name">{{ account.person.name }}</span>
      <span class="s">{{ [account.person.organisation, account.person.email].filter(Boolean).join(', ') }}</span>
    </td>
    <td class="f-line">
      <SentenceSelect
        v-if="proprietor && !['guest', 'proprietor'].includes(account.standing) && !account.ended"
        :model-value="account.standing"
        :label="t('people.standingOf', { name: account.person.name })"
        :options="standings"
        @update:model-value="setStanding"
      />
      <template v-else>{{ t(`people.standing.${account.standing}`) }}</template>
      <span class="s">{{ account.person.role }}</span>
    </td>
    <td class="f-line">
      <template v-if="account.standing === 'guest' && account.factor === 'none'">{{ t('people.byCode') }}</template>
      <b v-else-if="account.factor === 'none'" class="t-caution">
        <span class="only-narrow">{{ t('people.noFactor') }}</span>
        <span class="only-wide">{{ t('people.factor.none') }}</span>
      </b>
      <template v-else-if="account.factor">{{ t(`people.factor.${account.factor}`) }}</template>
    </td>
    <td class="ev f-away">
      <template v-if="account.seen">{{ said.when(account.seen) }}</template>
      <span v-else class="quiet">{{ t('people.never') }}</span>
    </td>
    <td class="f-line">
      <template v-if="account.measured">
        {{ t('people.dossiers', { n: account.dossiers }, account.dossiers) }}
        <span class="s">{{ t('common.documents', { n: account.documents }, account.documents) }}</span>
      </template>
    </td>
    <td class="f-side">
      <span v-if="account.ends" :title="said.full(account.ends)">{{ said.when(account.ends) }}</span>
      <span v-else-if="account.ended" class="quiet">{{ said.when(account.ended) }}</span>
      <span v-else class="quiet">{{ t('desk.noEnd') }}</span>
      <span class="s">
        <button v-if="account.ended && administers" type="button" class="go" @click="back">{{ t('people.bringBack') }}</button>
        <button v-else-if="mayEnd" type="button" class="go" :aria-expanded="ending" @click="ending = !ending">
          {{ t('people.endAll') }}
        </button>
      </span>
    </td>
  </tr>
  <tr v-if="ending" class="whole ending">
    <td colspan="6">
      <EndAccount :account="account" :successors="successors" @done="ending = false" />
    </td>
  </tr>
</template>
