<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { stemOf } from '../../i18n/words'
import { useSaid } from '../../sentences/said'
import { useRunActs } from './acts'
import { useDecisionWords } from './words'

/** The decisions that wait for one, each decided where it stands or looked at first; and the papers that wait for one's signature. */
defineProps<{ runs: Schemas['RunLine'][]; papers: Schemas['SigningLine'][] }>()
const { t } = useI18n()
const said = useSaid()
const words = useDecisionWords()
const { decide, busy, wrong } = useRunActs()
const doing = (r: Schemas['RunLine']) => r.stops[r.at - 1]?.do ?? 'work'
const agreeable = (r: Schemas['RunLine']) => !r.back && ['approve', 'review', 'work'].includes(doing(r))
</script>

<template>
  <section v-if="runs.length + papers.length" class="on-me">
    <h2>
      {{ t('decisions.onMe') }}
      <small class="quiet">{{ runs.length + papers.length }}</small>
    </h2>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
    <ul>
      <li v-for="r in runs" :key="r.id" :data-run="r.ref">
        <RouterLink :to="`/decisions/${r.id}`">{{ stemOf(r.name) }}</RouterLink>
        <span class="small quiet under">
          <span class="no">{{ r.ref }}</span>
          {{ words.stands(r) }}
        </span>
        <button v-if="agreeable(r)" type="button" class="btn btn-plain btn-small" :disabled="busy" @click="decide(r, 'agrees')">
          {{ t(`decisions.agree.${doing(r)}`, { n: r.version }) }}
        </button>
      </li>
      <li v-for="l in papers" :key="l.id" :data-paper="l.ref">
        <RouterLink :to="`/signing/${l.id}`">{{ stemOf(l.name) }}</RouterLink>
        <span class="small quiet under">
          <span class="no">{{ l.ref }}</span>
          {{ t('signing.askedBy', { name: l.sender, when: said.when(l.until) }) }}
        </span>
        <RouterLink class="btn btn-plain btn-small act" :to="`/signing/${l.id}/sign`">{{ t('signing.readAndSign') }}</RouterLink>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.on-me {
  margin-bottom: var(--tb-s4);
}
h2 {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
  padding-bottom: var(--tb-s1);
  border-bottom: 1px solid var(--tb-ink);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 var(--tb-s3);
  align-items: center;
  padding: 5px 0;
  border-bottom: 1px solid var(--tb-line);
}
a {
  overflow-wrap: anywhere;
}
.under {
  grid-column: 1;
}
button,
.act {
  grid-column: 2;
  grid-row: 1 / 3;
}
</style>
