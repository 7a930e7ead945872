<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Confirm from '../../parts/Confirm.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import Consequences from '../sharing/Consequences.vue'

/** A group with its members; administrators open it to change them. What a change means is said before it is made. */
const props = defineProps<{ group: Schemas['Group']; directory: Schemas['Directory']; administers: boolean }>()
const { t } = useI18n()
const open = ref(false)
const { act, busy, wrong } = useAct()
/** The change that waits to be confirmed. */
const plan = ref<
  | { way: 'join'; kind: 'person' | 'group'; member: string; name: string }
  | { way: 'leave'; kind: 'person' | 'group'; member: string; name: string }
  | { way: 'remove' }
>()
const nameOf = (m: Schemas['GroupMember']) =>
  (m.person
    ? props.directory.accounts.find((a) => a.person.id === m.person)?.person.name
    : props.directory.groups.find((g) => g.id === m.group)?.name) ?? '–'
const others = computed(() => [
  ...props.directory.accounts
    .filter((a) => !a.ended && !props.group.members.some((m) => m.person === a.person.id))
    .map((a) => ({ kind: 'person' as const, member: a.person.id, name: a.person.name })),
  ...props.directory.groups
    .filter((g) => g.id !== props.group.id && !props.group.members.some((m) => m.group === g.id))
    .map((g) => ({ kind: 'group' as const, member: g.id, name: t('access.group', { name: g.name }) })),
])
const what = computed<Schemas['WhatIf'] | undefined>(() => {
  const p = plan.value
  if (!p) return undefined
  return p.way === 'remove' ? { removeGroup: props.group.id } : { [p.way]: { group: props.group.id, member: p.member } }
})
const sentence = computed(
  () =>
    plan.value && t(`people.plan.${plan.value.way}`, { name: plan.value.way === 'remove' ? '' : plan.value.name, group: props.group.name }),
)

const joining = computed(() => [
  { value: '', words: t('people.addMember') },
  ...others.value.map((o) => ({ value: o.member, words: o.name })),
])
function choose(member: string) {
  const chosen = others.value.find((o) => o.member === member)
  if (chosen) plan.value = { way: 'join', ...chosen }
}
function change() {
  const p = plan.value
  const path = { id: props.group.id }
  if (!p) return
  if (p.way === 'remove')
    return act(() => api.DELETE('/groups/{id}', { params: { path } }), { done: t('people.groupRemoved', { name: props.group.name }) })
  const takeOut = () => api.DELETE('/groups/{id}/members/{member}', { params: { path: { ...path, member: p.member } } })
  const putIn = () => api.POST('/groups/{id}/members', { params: { path }, body: { [p.kind]: p.member } })
  const names = { name: p.name, group: props.group.name }
  const done = t('access.asBefore')
  if (p.way === 'leave') return act(takeOut, { done: t('people.hasLeft', names), undo: { do: putIn, done } })
  return act(putIn, { done: t('people.hasJoined', names), undo: { do: takeOut, done } })
}
async function confirm() {
  if (await change()) plan.value = undefined
}
</script>

<template>
  <tr :data-group="group.name">
    <td class="f-main">
      <span class="name">{{ group.name }}</span>
      <span class="s">{{ group.members.map((m) => nameOf(m).split(' ')[0]).join(', ') || t('people.nobody') }}</span>
    </td>
    <td class="f-away">{{ t('people.group') }}</td>
    <td class="f-away"></td>
    <td class="f-away"></td>
    <td class="f-line">{{ t('people.peopleN', { n: group.people.length }, group.people.length) }}</td>
    <td class="f-side">
      <button v-if="administers" type="button" class="go" :aria-expanded="open" @click="open = !open">{{ t('people.members') }}</button>
    </td>
  </tr>
  <tr v-if="open" class="whole opened">
    <td colspan="6">
      <div class="written">
        <ul>
          <li v-for="m in group.members" :key="m.person ?? m.group">
            <span>{{ nameOf(m) }}</span>
            <button
              type="button"
              class="go small"
              :aria-label="t('people.takeOutName', { name: nameOf(m) })"
              @click="plan = { way: 'leave', kind: m.person ? 'person' : 'group', member: (m.person ?? m.group)!, name: nameOf(m) }"
            >
              {{ t('people.takeOut') }}
            </button>
          </li>
        </ul>
        <div class="acts between">
          <SentenceSelect :model-value="''" :label="t('people.addMember')" :options="joining" @update:model-value="choose" />
          <button type="button" class="go small" @click="plan = { way: 'remove' }">{{ t('people.removeGroup') }}</button>
        </div>
        <Confirm
          v-if="plan && what"
          :key="JSON.stringify(what)"
          class="planned"
          :act="t(`people.do.${plan.way}`)"
          :discard="t('common.discard')"
          :busy="busy"
          :wrong="wrong"
          @do="confirm"
          @discard="plan = undefined"
        >
          <p class="terms">{{ sentence }}</p>
          <Consequences v-if="!busy" :what="what" />
        </Confirm>
      </div>
    </td>
  </tr>
</template>

<style scoped>
.written {
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 10px 12px;
}
.written li {
  display: flex;
  justify-content: space-between;
  max-width: 420px;
  padding: 3px 0;
}
.between {
  justify-content: space-between;
  max-width: 420px;
  margin-top: 6px;
}
.planned {
  margin-top: 10px;
}
</style>
