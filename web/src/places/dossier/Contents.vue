<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../app/said'
import Door from '../../parts/Door.vue'

/** The folder tree as a numbered table of contents. */
defineProps<{ dossier: Schemas['Dossier']; here?: string; bare?: boolean }>()
const { t } = useI18n()
const said = useSaid()
</script>

<template>
  <nav class="contents" :class="{ bare }" :aria-label="t('dossier.contentsOf', { code: dossier.code })">
    <header v-if="!bare"><div class="no quiet">{{ dossier.code }}</div><h2><RouterLink :to="`/dossiers/${dossier.code}/${dossier.id}`">{{ dossier.name }}</RouterLink></h2><div class="small quiet">{{ [dossier.subject, dossier.client].filter(Boolean).join(', ') }}</div></header>
    <ul>
      <li v-for="f in dossier.folders.filter((f) => f.number)" :key="f.id">
        <RouterLink :to="`/dossiers/${dossier.code}/${f.id}`" :data-n="f.documents" :class="`depth-${Math.min(f.depth, 4)}`" :aria-current="f.id === here ? 'page' : undefined"><span class="no">{{ f.number }}</span><span class="n" :title="f.name">{{ f.name }}</span><i></i><Door v-if="f.links" state="open" /></RouterLink>
      </li>
    </ul>
    <footer>{{ t('dossier.footDossier', { n: dossier.documents, size: said.size(dossier.bytes) }, dossier.documents) }}<br>{{ dossier.members.map((m) => m.person.name.split(' ')[0]).join(', ') }}</footer>
  </nav>
</template>

<style scoped>
.contents ul { overflow-y: auto; min-height: 0; flex: 1; margin: 0 -12px 0 -16px; padding: 0 12px 0 16px; }
.contents h2 a { color: inherit; }
.contents .depth-2 .no { width: 42px; margin-left: 8px; }
.contents .depth-3 .no, .contents .depth-4 .no { width: 52px; margin-left: 16px; }
.bare { border: 0; padding: 0; }
.bare li > a { height: 38px; line-height: 38px; font-size: .9375rem; }
</style>
