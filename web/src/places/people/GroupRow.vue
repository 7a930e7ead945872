<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAttempt } from '../../app/attempt'

/** A group with its members; administrators open it to change them. */
const props = defineProps<{ group: Schemas['Group']; directory: Schemas['Directory']; administers: boolean }>()
const { t } = useI18n()
const open = ref(false)
const removing = ref(false)
const { wrong, attempt } = useAttempt()
const nameOf = (m: Schemas['GroupMember']) => (m.person ? props.directory.accounts.find((a) => a.person.id === m.person)?.person.name : props.directory.groups.find((g) => g.id === m.group)?.name) ?? '–'
const others = computed(() => [
  ...props.directory.accounts.filter((a) => !a.ended && !props.group.members.some((m) => m.person === a.person.id)).map((a) => ({ value: `p${a.person.id}`, label: a.person.name })),
  ...props.directory.groups.filter((g) => g.id !== props.group.id && !props.group.members.some((m) => m.group === g.id)).map((g) => ({ value: `g${g.id}`, label: t('access.group', { name: g.name }) })),
])

function add(e: Event) {
  const field = e.target as HTMLSelectElement
  const [kind, id] = [field.value[0], field.value.slice(1)]
  field.value = ''
  if (id) void attempt(() => api.POST('/groups/{id}/members', { params: { path: { id: props.group.id } }, body: kind === 'p' ? { person: id } : { group: id } }))
}
const take = (m: Schemas['GroupMember']) => attempt(() => api.DELETE('/groups/{id}/members/{member}', { params: { path: { id: props.group.id, member: (m.person ?? m.group)! } } }))
const remove = () => attempt(() => api.DELETE('/groups/{id}', { params: { path: { id: props.group.id } } }), t('people.groupRemoved', { name: props.group.name }))
</script>

<template>
  <tr :data-group="group.name">
    <td><span class="name">{{ group.name }}</span><span class="s">{{ group.members.map((m) => nameOf(m).split(' ')[0]).join(', ') || t('people.nobody') }}</span></td>
    <td>{{ t('people.group') }}</td><td class="c-factor"></td><td class="c-seen"></td>
    <td>{{ t('people.peopleN', { n: group.people.length }, group.people.length) }}</td>
    <td><button v-if="administers" type="button" class="go" :aria-expanded="open" @click="open = !open">{{ t('people.members') }}</button></td>
  </tr>
  <tr v-if="open" class="opened"><td colspan="6"><div class="written">
    <ul><li v-for="m in group.members" :key="m.person ?? m.group"><span>{{ nameOf(m) }}</span><button type="button" class="go small" @click="take(m)">{{ t('people.takeOut') }}</button></li></ul>
    <select class="w choice" :aria-label="t('people.addMember')" @change="add"><option value="">{{ t('people.addMember') }}</option><option v-for="o in others" :key="o.value" :value="o.value">{{ o.label }}</option></select>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts"><template v-if="removing"><span class="small">{{ t('people.removeMeans') }}</span><button type="button" class="btn btn-primary btn-small" @click="remove">{{ t('people.removeGroup') }}</button><button type="button" class="btn btn-text btn-small" @click="removing = false">{{ t('common.discard') }}</button></template><button v-else type="button" class="go small" @click="removing = true">{{ t('people.removeGroup') }}</button></div>
  </div></td></tr>
</template>

<style scoped>
.opened td { height: auto !important; padding: 0 0 10px !important; white-space: normal !important; }
.written { border: 1px solid var(--tb-action); background: var(--tb-sheet); border-radius: 3px; padding: 10px 12px; }
.written li { display: flex; justify-content: space-between; max-width: 420px; padding: 3px 0; }
.acts { margin-top: 8px; }
</style>
