<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import IconX from '~icons/ph/x'
import type { Schemas } from '../../api/client'
import Remarks from '../remarks/Remarks.vue'
import Reach from './Reach.vue'

/** The slip of a folder, or of the dossier: who can open it, and how. */
defineProps<{ folder: Schemas['Folder']; dossier: Schemas['Dossier'] }>()
defineEmits<{ close: []; give: [] }>()
const { t } = useI18n()
</script>

<template>
  <aside class="slip" :aria-label="t('access.folderSlip', { name: folder.number ? folder.name : dossier.name })">
    <header>
      <div class="acts" style="justify-content: space-between">
        <span class="no quiet">{{ folder.number ? `${dossier.code} ${folder.number}` : dossier.code }}</span>
        <button type="button" :aria-label="t('slip.closeSlip')" @click="$emit('close')"><IconX aria-hidden="true" /></button>
      </div>
      <h2>{{ folder.number ? folder.name : t('access.members', { name: dossier.name }) }}</h2>
      <div v-if="folder.may.includes('share')" class="acts">
        <button type="button" class="btn btn-plain btn-small" @click="$emit('give')">{{ t('access.letIn') }}</button>
      </div>
    </header>
    <Reach :item="folder.id" :kind="folder.number ? 'folder' : 'dossier'" :dossier="dossier.code" />
    <section class="talk">
      <h3>{{ t('remarks.title') }}</h3>
      <Remarks :item="folder.id" />
    </section>
  </aside>
</template>
