<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Failed from '../../app/Failed.vue'
import { useComparedPages, type Pair } from '../../queries/comparison'
import ComparedPage from './ComparedPage.vue'

/** The pages of both beside each other, with what differs marked; those that look the same are counted. */
const props = defineProps<{ pair: Pair; from: Schemas['ComparedSide']; to: Schemas['ComparedSide'] }>()
const { t } = useI18n()
const { data: pages, error, refetch } = useComparedPages(() => props.pair)
type Shown = Schemas['ComparedPage'] & { key: string }
/** What is shown: pages that differ, and between them how many are the same. */
const shown = computed(() => {
  const out: (Shown | { key: string; alike: number })[] = []
  for (const [i, p] of (pages.value?.pairs ?? []).entries()) {
    const last = out[out.length - 1]
    if (!p.same) out.push({ ...p, key: `p${i}` })
    else if (last && 'alike' in last) last.alike++
    else out.push({ key: `s${i}`, alike: 1 })
  }
  return out
})
</script>

<template>
  <Failed v-if="error" :error="error" @again="refetch()" />
  <p v-else-if="!pages" class="quiet" role="status">{{ t('comparison.drawing') }}</p>
  <div v-else class="laid">
    <p v-if="pages.cut" class="t-caution">{{ t('comparison.pagesCut') }}</p>
    <template v-for="p in shown" :key="p.key">
      <p v-if="'alike' in p" class="alike">{{ t('comparison.pagesSame', { n: p.alike }, p.alike) }}</p>
      <ComparedPage v-else :page="p" :pair="pair" :from="from" :to="to" />
    </template>
  </div>
</template>

<style scoped>
.laid {
  width: 100%;
  max-width: 1400px;
  margin: 0 auto;
}
.alike {
  margin: var(--tb-s3) 0;
  padding: 2px 0;
  border: solid var(--tb-line);
  border-width: 1px 0;
  color: var(--tb-quiet);
  font-size: var(--tb-small);
  text-align: center;
}
</style>
