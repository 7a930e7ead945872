<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useRunsOf } from '../../queries/decisions'
import Dots from '../../parts/Dots.vue'
import StateWords from '../../sentences/StateWords.vue'
import { useSaid } from '../../sentences/said'
import DecideButtons from './DecideButtons.vue'
import { useDecisionWords } from './words'

/** What is asked about a document, and what was decided; one's own decision is given from here. */
const props = defineProps<{ document: string; state?: Schemas['DocumentState'] }>()
const { t } = useI18n()
const said = useSaid()
const words = useDecisionWords()
const { data: runs } = useRunsOf(() => props.document)
const mine = computed(() => runs.value?.find(words.asksMe))
</script>

<template>
  <div>
    <p class="is"><StateWords :state="state" /></p>
    <DecideButtons v-if="mine" class="mine" :run="mine" />
    <ul>
      <li v-for="r in runs" :key="r.id">
        <RouterLink :to="`/decisions/${r.id}`">{{ r.route ?? t('decisions.byHand') }}</RouterLink>
        <Dots :stops="r.stops" />
        <span class="small quiet" :title="said.full(r.endedAt ?? r.since)">v. {{ r.version }}, {{ words.stands(r) }}</span>
      </li>
    </ul>
    <p v-if="runs && !runs.length" class="small quiet">{{ t('decisions.slipNone') }}</p>
  </div>
</template>

<style scoped>
.is {
  margin-bottom: var(--tb-s2);
}
.mine {
  flex-wrap: wrap;
  margin-bottom: var(--tb-s2);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 0 var(--tb-s2);
  padding: 4px 0;
}
li .small {
  grid-column: 1 / -1;
}
</style>
