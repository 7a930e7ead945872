<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconPin from '~icons/ph/push-pin'
import IconPinned from '~icons/ph/push-pin-fill'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSession } from '../../app/session'
import { stemOf } from '../../i18n/words'
import Confirm from '../../parts/Confirm.vue'
import Door from '../../parts/Door.vue'
import { useSaid } from '../../sentences/said'
import Consequences from '../sharing/Consequences.vue'
import { useAccessWords } from '../sharing/words'

/** One thing that I was given, or gave to somebody. */
const props = defineProps<{ grant: Schemas['Grant']; byMe: boolean; fresh: boolean }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const words = useAccessWords()
const { act, busy, wrong } = useAct()
const ending = ref(false)
const who = computed(() => words.who(props.grant, store.practice?.name ?? ''))
const way = computed(() => {
  const g = props.grant
  if (g.itemKind === 'document' && g.ref) return `/d/${g.ref}`
  return g.itemKind === 'dossier' ? `/dossiers/${g.code}` : `/dossiers/${g.code}/${g.itemId}`
})
/** When it was given, and by which way where that is not plain. */
const given = computed(() => {
  const g = props.grant
  if (!props.byMe && g.kind !== 'person') return `${said.when(g.at)}, ${who.value}`
  return props.byMe && g.invited ? `${said.when(g.at)}, ${t('access.invited')}` : said.when(g.at)
})
const pinWords = computed(() => t(props.grant.pinned ? 'desk.unpin' : 'desk.pin', { name: props.grant.itemName }))

const pin = () =>
  act(() => api.PUT('/items/{id}/pin', { params: { path: { id: props.grant.itemId } }, body: { pinned: !props.grant.pinned } }), {
    aloud: true,
  })
const end = () =>
  act(() => api.DELETE('/access/{id}', { params: { path: { id: props.grant.id } } }), {
    done: props.byMe ? t('access.ended', { who: props.grant.name }) : t('desk.left', { name: props.grant.itemName }),
  })
</script>

<template>
  <tr :class="{ fresh }" :data-given="grant.itemName">
    <td class="f-lead">
      <Door v-if="byMe" :state="grant.outside ? 'ajar' : 'closed'" />
      <button v-else type="button" :aria-pressed="!!grant.pinned" :aria-label="pinWords" :title="pinWords" @click="pin">
        <IconPinned v-if="grant.pinned" aria-hidden="true" />
        <IconPin v-else class="quiet" aria-hidden="true" />
      </button>
    </td>
    <td class="no f-away">{{ grant.ref ?? grant.code }}</td>
    <td class="f-main">
      <RouterLink :to="way" class="name">{{ grant.itemKind === 'document' ? stemOf(grant.itemName) : grant.itemName }}</RouterLink>
      <span class="s">
        <b v-if="fresh" class="new">{{ t('desk.new') }}</b>
        {{ t(`desk.kind.${grant.itemKind}`, { dossier: grant.dossierName }) }}
      </span>
      <span v-if="grant.message" class="s note">“{{ grant.message }}”</span>
    </td>
    <td class="f-line">
      {{ byMe ? who : grant.by || '–' }}
      <span class="s" :title="said.full(grant.at)">{{ given }}</span>
    </td>
    <td class="f-line">
      {{ grant.words }}
      <span class="s">{{ grant.level === 'manage' ? '' : grant.onward ? t('access.mayOnward') : t('access.mayNotOnward') }}</span>
    </td>
    <td class="f-line">
      <template v-if="grant.until">
        <span :title="said.full(grant.until)">{{ said.when(grant.until) }}</span>
        <span class="s">{{ said.ahead(grant.until) }}</span>
      </template>
      <span v-else class="quiet">{{ t('desk.noEnd') }}</span>
    </td>
    <td class="r f-side">
      <button
        v-if="byMe || grant.kind === 'person'"
        type="button"
        class="btn btn-plain btn-small"
        :aria-expanded="ending"
        @click="ending = !ending"
      >
        {{ byMe ? t('desk.end') : t('desk.leave') }}
      </button>
    </td>
  </tr>
  <tr v-if="ending" class="whole">
    <td colspan="7">
      <Confirm
        :act="byMe ? t('access.end') : t('desk.leave')"
        :discard="t('common.discard')"
        :busy="busy"
        :wrong="wrong"
        @do="end"
        @discard="ending = false"
      >
        <p class="terms">
          {{ byMe ? t('desk.endSentence', { who, name: grant.itemName }) : t('desk.leaveSentence', { name: grant.itemName }) }}
        </p>
        <Consequences :what="{ end: grant.id }" />
      </Confirm>
    </td>
  </tr>
</template>

<style scoped>
.new {
  color: var(--tb-action);
  font-weight: 620;
}
.fresh .name {
  font-weight: 700;
}
</style>
