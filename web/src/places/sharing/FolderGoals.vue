<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Door from '../../parts/Door.vue'

/** The folders into which something can be put, the dossier itself first; many are found by their name. */
const { folders } = defineProps<{ folders: Schemas['Folder'][]; chosen?: string; shut?: string }>()
defineEmits<{ pick: [folder: string] }>()
const { t } = useI18n()
const sought = ref('')
const listed = computed(() => folders.filter((f) => `${f.number} ${f.name}`.toLowerCase().includes(sought.value.trim().toLowerCase())))
</script>

<template>
  <input
    v-if="folders.length > 8"
    v-model="sought"
    class="form-control sought"
    type="search"
    :placeholder="t('move.find')"
    :aria-label="t('move.find')"
  />
  <ul v-if="folders.length" class="goals" :aria-label="t('move.folder')">
    <li v-for="f in listed" :key="f.id">
      <button
        type="button"
        :aria-pressed="f.id === chosen"
        :disabled="f.id === shut"
        :style="{ paddingLeft: `${8 + 14 * Math.max(0, Math.min(f.depth, 4) - 1)}px` }"
        @click="$emit('pick', f.id)"
      >
        <span class="no quiet">{{ f.number }}</span>
        {{ f.number ? f.name : t('move.top') }}
        <Door v-bind="f.links ? { state: 'open' } : f.door" />
      </button>
    </li>
  </ul>
</template>

<style scoped>
.sought {
  max-width: 260px;
}
.goals {
  list-style: none;
  margin: 0;
  padding: 0;
  max-height: 232px;
  overflow-y: auto;
  border: solid var(--tb-line);
  border-width: 1px 0;
}
.goals button {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  width: 100%;
  min-height: 30px;
  text-align: left;
}
.goals .no {
  min-width: 40px;
}
.goals button > :last-child {
  margin-left: auto;
}
.goals button:hover:enabled,
.goals button[aria-pressed='true'] {
  background: var(--tb-selection);
}
.goals button:disabled {
  color: var(--tb-quiet);
}
@media (max-width: 900px) {
  .goals button {
    min-height: 44px;
  }
}
</style>
