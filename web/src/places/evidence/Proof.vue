<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useProof } from '../../queries/evidence'
import { useSaid } from '../../sentences/said'

/** How one event is proven: the hashes by which it leads to the signed checkpoint. */
const props = defineProps<{ event: number }>()
const { t } = useI18n()
const said = useSaid()
const { data: proof, error } = useProof(() => props.event)
const apart = 16
const steps = computed(() => proof.value?.steps.length ?? 0)
const width = computed(() => 40 + steps.value * apart)
/** On which side the hash of a step stands: the bits of the place say so. */
const above = (i: number) => ((proof.value?.place ?? 0) / 2 ** i) % 2 < 1
const short = (hash: string) => `${hash.slice(0, 8)} … ${hash.slice(-8)}`
const signer = computed(() => proof.value?.checkpoint.key.split('+') ?? [])
</script>

<template>
  <section v-if="proof">
    <h2>{{ t('evidence.howTitle', { place: proof.place }) }}</h2>
    <p class="small quiet">{{ t('evidence.steps', { n: steps }, steps) }}</p>
    <svg :viewBox="`0 0 ${width} 44`" role="img" :aria-label="t('evidence.steps', { n: steps }, steps)">
      <line x1="8" y1="22" :x2="width - 16" y2="22" class="path" />
      <circle cx="8" cy="22" r="5" class="event" />
      <g v-for="i in steps" :key="i">
        <line :x1="8 + i * apart" y1="22" :x2="8 + i * apart" :y2="above(i - 1) ? 10 : 34" class="branch" />
        <rect :x="4 + i * apart" :y="above(i - 1) ? 2 : 34" width="8" height="8" class="other" />
      </g>
      <rect :x="width - 24" y="13" width="18" height="18" rx="3" class="end" />
    </svg>
    <dl class="pairs">
      <dt>{{ t('evidence.mark') }}</dt>
      <dd class="no" :title="proof.hash">{{ short(proof.hash) }}</dd>
      <dt>{{ t('evidence.checkpoint') }}</dt>
      <dd>
        <span class="no" :title="proof.checkpoint.root">{{ short(proof.checkpoint.root) }}</span>
        , {{ t('evidence.events', { n: said.count(proof.checkpoint.size) }, proof.checkpoint.size) }}
      </dd>
      <dt>{{ t('evidence.signedBy') }}</dt>
      <dd>
        {{ signer[0] }}
        <span class="no">{{ signer[1] }}</span>
      </dd>
    </dl>
  </section>
  <section v-else-if="error">
    <p class="small quiet">{{ said.problem(error) }}</p>
  </section>
</template>

<style scoped>
h2 {
  font-size: var(--tb-lead);
}
svg {
  display: block;
  max-width: 100%;
  height: 44px;
  margin: var(--tb-s2) 0;
}
.path,
.branch {
  stroke: var(--tb-ink);
  stroke-width: 1.5;
}
.branch {
  stroke: var(--tb-rule);
}
.event {
  fill: var(--tb-action);
}
.other {
  fill: var(--tb-sheet);
  stroke: var(--tb-edge);
}
.end {
  fill: var(--tb-done);
}
.pairs {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 2px var(--tb-s2);
  margin: 0;
  font-size: var(--tb-small);
}
.pairs dt {
  font-weight: 400;
  color: var(--tb-quiet);
}
.pairs dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
