<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Door from '../../parts/Door.vue'
import Terms from '../../parts/Terms.vue'
import { useSaid } from '../../sentences/said'
import { useLinkActs } from '../links/acts'
import LinkRecord from './LinkRecord.vue'

/** One way out: its door, its sentence, its use and its end; below it, when shown, what happened through it. */
const props = defineProps<{ link: Schemas['Link']; shown: boolean }>()
defineEmits<{ show: [] }>()
const chosen = defineModel<string[]>('chosen', { required: true })
const { t } = useI18n()
const said = useSaid()
const acts = useLinkActs()
const use = computed(() => {
  const { openings: n, openingsLimit: limit } = props.link
  if (limit) return t('outward.opensOf', { n, limit })
  return n ? t('outward.opens', { n }, n) : t('outward.never')
})
/** What came in, for a link that takes papers. */
const cameIn = computed(() => {
  const { expected, received: n } = props.link
  return expected.length
    ? t('outward.papersHere', { n: expected.filter((p) => p.here).length, all: expected.length })
    : t('outward.receivedFiles', { n }, n)
})
const number = computed(() => (props.link.items.length === 1 && props.link.items[0].ref) || props.link.dossierCode)
/** How much of the next month the link lasts, for the small line. */
const lasts = computed(() => {
  const { until } = props.link
  return until ? Math.min(92, Math.max(3, ((new Date(until).getTime() - said.now.value.getTime()) / (30 * 86_400_000)) * 92)) : 92
})
</script>

<template>
  <tbody>
    <tr :data-link="link.name" class="goes" :class="{ over: !link.living }" @click="$emit('show')">
      <td class="choose f-away" @click.stop>
        <input
          v-if="link.mayEnd"
          v-model="chosen"
          type="checkbox"
          class="form-check-input"
          :value="link.id"
          :aria-label="`${t('dossier.columns.choose')} ${link.name}`"
        />
      </td>
      <td class="f-lead"><Door :state="link.living ? 'open' : 'closed'" /></td>
      <td class="f-main">
        <button type="button" class="name" :aria-expanded="shown" @click.stop="$emit('show')">{{ link.name }}</button>
        <br />
        <span class="small quiet">
          {{ t(`outward.kinds.${link.kind}`) }},
          <span class="no nb">{{ number }}</span>
        </span>
      </td>
      <td class="terms listed f-line"><Terms :sentence="link.sentence" /></td>
      <td class="f-use">
        <span v-if="link.openingsLimit && link.openingsLimit <= 6" class="pips open" aria-hidden="true">
          <i v-for="n in link.openingsLimit" :key="n" :class="{ on: n <= link.openings }"></i>
        </span>
        {{ use }}
        <br />
        <template v-if="link.kind === 'intake' && (link.received || link.expected.length)">
          {{ cameIn }}
          <br />
        </template>
        <span v-if="link.lastOpenedAt" class="small quiet" :title="said.full(link.lastOpenedAt)">
          {{ said.when(link.lastOpenedAt) + (link.lastBy ? `, ${link.lastBy}` : '') }}
        </span>
      </td>
      <td v-if="link.state === 'open'" class="f-ends">
        <span :title="link.until && said.full(link.until)">{{ link.until ? said.ahead(link.until) : t('outward.noEnd') }}</span>
        <br />
        <svg width="92" height="8" aria-hidden="true">
          <path d="M0 4h92" stroke="var(--tb-line)" />
          <path :d="`M0 4h${lasts}`" stroke="var(--tb-ink)" stroke-width="2" />
          <path :d="`M${lasts} 0v8`" stroke="var(--tb-ink)" stroke-width="2" />
        </svg>
        <br />
        <button v-if="link.mayEnd && link.until" type="button" class="go small" @click.stop="acts.weekMore(link)">
          {{ t('links.weekMore') }}
        </button>
      </td>
      <td v-else class="f-ends">
        {{ t(`outward.state_${link.state}`) }}
        <br />
        <span class="small quiet">{{ said.when(link.endedAt ?? link.until ?? link.at) }}</span>
      </td>
      <td class="r f-side">
        <button v-if="link.mayEnd" type="button" class="btn btn-plain btn-small" @click.stop="acts.end(link)">
          {{ t('outward.end') }}
        </button>
      </td>
    </tr>
    <tr v-if="shown" class="record whole">
      <td colspan="7"><LinkRecord :id="link.id" /></td>
    </tr>
  </tbody>
</template>

<style scoped>
td {
  white-space: normal;
  vertical-align: middle;
}
td.terms {
  font-size: var(--tb-text);
  padding-right: 28px;
}
.name {
  text-align: left;
}
.over td {
  color: var(--tb-quiet);
}
.record td {
  padding: 10px 0 14px 66px;
}
.pips {
  display: inline-flex;
  gap: 2px;
  margin-right: var(--tb-s2);
  color: var(--tb-bearer);
}
.pips i {
  width: 8px;
  height: 8px;
  border: 1px solid currentColor;
}
.pips .on {
  background: currentColor;
}
@media (max-width: 900px) {
  tr td.terms {
    padding: var(--tb-s1) 0;
  }
  .f-use {
    grid-column: 2;
    grid-row: 3;
  }
  .f-ends {
    grid-column: 3;
    grid-row: 3;
    text-align: right;
  }
}
</style>
