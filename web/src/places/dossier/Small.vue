<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Schemas } from '../../api/client'
import { extensionOf } from '../../i18n/words'

/** A document as a small picture of its first page; where there is none, its kind stands there. */
const props = defineProps<{ row: Schemas['DocumentRow'] }>()
const without = ref(false)
watch(
  () => [props.row.id, props.row.version],
  () => (without.value = false),
)
</script>

<template>
  <div class="small-picture">
    <img
      v-if="!without && row.size > 0 && row.kind !== 'recording'"
      :src="`/api/documents/${row.id}/pages/1?width=240&version=${row.version}`"
      alt=""
      loading="lazy"
      draggable="false"
      @error="without = true"
    />
    <span v-else class="no quiet">{{ extensionOf(row.name) }}</span>
  </div>
</template>

<style scoped>
.small-picture {
  display: grid;
  place-items: center;
  min-height: 0;
  background: var(--tb-page);
  border: 1px solid var(--tb-line);
  overflow: hidden;
}
img {
  max-width: 100%;
  max-height: 132px;
  object-fit: contain;
}
</style>
