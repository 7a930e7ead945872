<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import Door from '../../parts/Door.vue'
import { drag, draggedItems, dragType } from './dragged'
import { useMenuAt } from '../../parts/menuat'
import WidthHandle from '../../parts/WidthHandle.vue'
import NameForm from './NameForm.vue'
import { usePlacing } from './placing'
import { thingOfFolder, type Thing } from './things'

/** The folder tree as a numbered table of contents. */
const props = defineProps<{ dossier: Schemas['Dossier']; here?: string; bare?: boolean; arrange?: boolean; naming?: string }>()
const emit = defineEmits<{ menu: [thing: Thing, x: number, y: number]; onto: [folder: string, items: string[]]; named: [] }>()
const over = ref('')
const { place, shift, dragged, between, hover } = usePlacing(
  () => props.dossier,
  () => !!props.arrange,
)
const list = ref<HTMLElement>()
useMenuAt(list, '[data-thing]', (row, x, y) => {
  const folder = props.dossier.folders.find((f) => f.id === row.dataset.thing)
  if (folder && props.arrange) emit('menu', thingOfFolder(folder), x, y)
})
function hold(f: Schemas['Folder'], e: DragEvent) {
  if (hover(f, e)) over.value = ''
  else over.value = props.arrange && f.may.includes('add') && e.dataTransfer?.types.includes(dragType) ? f.id : ''
}
function drop(folder: string, e: DragEvent) {
  over.value = ''
  if (between.value) return void place(draggedItems(e)[0]!)
  const items = draggedItems(e).filter((id) => id !== folder)
  if (items.length) emit('onto', folder, items)
}
const { t } = useI18n()
const said = useSaid()
/** With versions it takes more than the documents that count. */
const kept = computed(() => {
  const storage = props.dossier.storage
  if (!storage || (!storage.limit && storage.used === props.dossier.bytes)) return ''
  return t('dossier.footStorage', { used: said.size(storage.used), limit: said.size(storage.limit ?? 0) }, storage.limit ? 2 : 1)
})
</script>

<template>
  <nav class="contents" :class="{ bare }" :aria-label="t('dossier.contentsOf', { code: dossier.code })">
    <header v-if="!bare">
      <div class="no quiet">{{ dossier.code }}</div>
      <h2>
        <RouterLink :to="`/dossiers/${dossier.code}/${dossier.id}`">{{ dossier.name }}</RouterLink>
      </h2>
      <div class="small quiet">{{ [dossier.subject, dossier.client].filter(Boolean).join(', ') }}</div>
    </header>
    <ul ref="list">
      <li
        v-for="f in dossier.folders.filter((f) => f.number)"
        :key="f.id"
        :data-thing="f.id"
        :class="{ over: over === f.id, before: between?.line === f.id && !between.after, after: between?.line === f.id && between.after }"
        :draggable="arrange && f.may.includes('delete')"
        @dragstart="(drag($event, [f.id]), (dragged = f.id))"
        @dragend="((dragged = undefined), (between = undefined))"
        @dragover.prevent="hold(f, $event)"
        @dragleave="((over = ''), (between = undefined))"
        @drop.prevent="drop(f.id, $event)"
      >
        <NameForm v-if="naming === f.id" :id="f.id" :name="f.name" kind="folder" @done="$emit('named')" />
        <RouterLink
          v-else
          :to="{ path: `/dossiers/${dossier.code}/${f.id}`, query: $route.query.as ? { as: $route.query.as } : {} }"
          :data-n="f.documents"
          :class="[`depth-${Math.min(f.depth, 4)}`, { through: f.through, struck: f.hidden }]"
          :aria-current="f.id === here ? 'page' : undefined"
          @keydown.alt.up.prevent="shift(f, -1)"
          @keydown.alt.down.prevent="shift(f, 1)"
        >
          <span class="no">{{ f.number }}</span>
          <span class="n" :title="f.name">{{ f.name }}</span>
          <i></i>
          <Door v-if="f.links" state="open" />
          <Door v-else-if="f.closed || f.door.state === 'ajar'" :state="f.door.state" :closed="f.closed" />
        </RouterLink>
      </li>
    </ul>
    <WidthHandle v-if="!bare" name="contents" :label="t('dossier.width')" :least="160" :most="480" :usual="216" />
    <footer>
      {{ t('dossier.footDossier', { n: dossier.documents, size: said.size(dossier.bytes) }, dossier.documents) }}
      <template v-if="kept">
        <br />
        {{ kept }}
      </template>
      <br />
      <RouterLink v-if="!dossier.branch" :to="`/dossiers/${dossier.code}/${dossier.id}?reach=1`">{{ t('access.whoIsIn') }}</RouterLink>
      <template v-else>{{ t('access.branch') }}</template>
      {{ ' ' }}
      <RouterLink class="bin" :to="`/dossiers/${dossier.code}/deleted`">{{ t('deletion.deletedTitle') }}</RouterLink>
    </footer>
  </nav>
</template>

<style scoped>
.contents ul {
  overflow-y: auto;
  min-height: 0;
  flex: 1;
  margin: 0 -12px 0 -16px;
  padding: 0 var(--tb-s3) 0 var(--tb-s4);
}
.contents h2 a {
  color: inherit;
}
.contents .depth-2 .no {
  width: 42px;
  margin-left: var(--tb-s2);
}
/* Deeper numbers are as wide as they are: names begin behind them, however long the number. */
.contents .depth-3 .no,
.contents .depth-4 .no {
  width: auto;
  min-width: 48px;
  margin: 0 var(--tb-s1) 0 var(--tb-s3);
}
.contents .through .n {
  color: var(--tb-quiet);
}
.struck .n {
  text-decoration: line-through;
  color: var(--tb-quiet);
}
.over > a {
  box-shadow: inset 0 0 0 2px var(--tb-action);
}
/* Where a folder would stand that is let go. */
.before {
  box-shadow: 0 -2px 0 var(--tb-action);
}
.after {
  box-shadow: 0 2px 0 var(--tb-action);
}
.bin {
  margin-left: var(--tb-s3);
}
.bare {
  border: 0;
  padding: 0;
}
.bare li > a {
  height: 38px;
  line-height: 38px;
  font-size: var(--tb-read);
}
</style>
