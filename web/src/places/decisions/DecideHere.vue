<script setup lang="ts">
import { computed } from 'vue'
import { useRunsOf } from '../../queries/decisions'
import DecideButtons from './DecideButtons.vue'
import { useDecisionWords } from './words'

/** One's own decision on the version that is looked at, beside it. */
const props = defineProps<{ document: string; version?: number }>()
const words = useDecisionWords()
const { data: runs } = useRunsOf(() => props.document)
const mine = computed(() => runs.value?.find((r) => r.version === props.version && !r.back && words.asksMe(r)))
</script>

<template>
  <div v-if="mine" class="bar acts">
    <span class="small">{{ words.stands(mine) }}</span>
    <DecideButtons :run="mine" />
  </div>
</template>

<style scoped>
.bar {
  justify-content: flex-end;
  flex-wrap: wrap;
  padding: 8px 20px;
  background: var(--tb-sheet);
  border-top: 2px solid var(--tb-ink);
}
</style>
