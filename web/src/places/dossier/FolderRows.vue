<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Door from '../../parts/Door.vue'
import { drag } from './dragged'
import NameForm from './NameForm.vue'

/** The folders within a folder, as rows before its documents. */
const props = defineProps<{
  code: string
  folders: Schemas['Folder'][]
  all: Schemas['Folder'][]
  chosen: string[]
  naming?: string
  /** Nothing can be done with them here. */
  still: boolean
}>()
defineEmits<{ toggle: [id: string, range: boolean]; named: [] }>()
/** The most open door there is in it. */
function door(f: Schemas['Folder']) {
  const within = props.all.filter((o) => o.id === f.id || o.number.startsWith(`${f.number}.`))
  if (within.some((o) => o.links)) return { state: 'open' as const }
  const ajar = within.find((o) => o.door.state === 'ajar')
  return ajar && !f.closed ? { state: ajar.door.state } : { state: f.door.state, closed: f.closed }
}
const { t } = useI18n()
</script>

<template>
  <ul class="folders" :aria-label="t('dossier.folders')">
    <li
      v-for="f in folders"
      :key="f.id"
      :data-thing="f.id"
      :class="{ chosen: chosen.includes(f.id) }"
      :draggable="!still && f.may.includes('delete')"
      @dragstart="drag($event, chosen.includes(f.id) ? chosen : [f.id])"
    >
      <input
        v-if="!still"
        class="form-check-input only-wide"
        type="checkbox"
        :checked="chosen.includes(f.id)"
        :aria-label="`${t('dossier.columns.choose')} ${f.number} ${f.name}`"
        @click="$emit('toggle', f.id, $event.shiftKey)"
      />
      <NameForm v-if="naming === f.id" :id="f.id" :name="f.name" kind="folder" @done="$emit('named')" />
      <RouterLink
        v-else
        :to="{ path: `/dossiers/${code}/${f.id}`, query: $route.query.as ? { as: $route.query.as } : {} }"
        :data-folder="f.name"
      >
        <Door v-bind="door(f)" />
        <span class="no quiet">{{ f.number }}</span>
        <b :class="{ struck: f.hidden }">{{ f.name }}</b>
        <span class="quiet small n">{{ t('common.documents', { n: f.documents }, f.documents) }}</span>
      </RouterLink>
    </li>
  </ul>
</template>

<style scoped>
li {
  position: relative;
  border-bottom: 1px solid var(--tb-line);
  -webkit-touch-callout: none;
}
.form-check-input {
  position: absolute;
  left: 20px;
  top: 11px;
}
.chosen {
  background: var(--tb-selection);
}
form {
  padding: 0 20px 0 46px;
}
.folders {
  list-style: none;
  margin: 0;
  padding: 0;
}
a {
  display: grid;
  grid-template-columns: 32px 52px minmax(0, 1fr) auto;
  align-items: center;
  height: 38px;
  margin-left: 46px;
  padding: 0 20px 0 0;
  color: inherit;
  font-size: var(--tb-text);
}
li:hover {
  background: var(--tb-selection);
}
b {
  font-weight: 560;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.struck {
  text-decoration: line-through;
  color: var(--tb-quiet);
}
@media (max-width: 900px) {
  a {
    margin: 0;
    padding: 0 16px;
    height: 44px;
  }
}
</style>
