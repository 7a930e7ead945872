<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** What happened to a run, as people say it, the first first. */
const props = defineProps<{ trail: Schemas['TrailEntry'][]; byHand?: boolean }>()
const { t } = useI18n()
const said = useSaid()
function words(e: Schemas['TrailEntry']) {
  if (e.kind === 'started' && (props.byHand || !e.by)) return t(`decisions.trail.${e.by ? 'asked' : 'startedItself'}`)
  if (e.kind === 'said') return t(`decisions.trail.${e.verdict}`)
  if (e.kind === 'end') return t(`decisions.trail.end.${e.status}`)
  if (e.kind === 'left') return t('decisions.trail.skipped')
  if (e.kind === 'held') return t(`decisions.heldWhy.${e.reason}`, { why: e.note })
  return t(`decisions.trail.${e.kind}`, { to: said.list(e.to ?? []), n: e.version })
}
const by = (e: Schemas['TrailEntry']) => e.by ?? (e.kind === 'late' || e.kind === 'reminded' ? e.to?.[0] : '')
</script>

<template>
  <ol>
    <li v-for="(e, i) in trail" :key="i" :class="{ back: e.verdict === 'returns' }">
      <b v-if="by(e)">{{ by(e) }}</b>
      {{ words(e) }}
      <span class="small quiet" :title="said.full(e.at)">
        {{ e.version && e.kind !== 'content' ? `v. ${e.version}, ` : '' }}{{ said.when(e.at) }}
      </span>
      <q v-if="e.note && e.kind !== 'held'">{{ e.note }}</q>
      <span v-if="e.seen" class="small quiet">
        {{ t(e.pages ? 'decisions.seenPages' : 'decisions.seenOnly', { pages: e.seen, of: e.pages }) }}
      </span>
    </li>
  </ol>
</template>

<style scoped>
ol {
  list-style: none;
  margin: 0 0 var(--tb-s3);
  padding: 0;
}
li {
  position: relative;
  padding: 4px 0 8px 22px;
}
li::before {
  content: '';
  position: absolute;
  left: 3px;
  top: 11px;
  width: 7px;
  height: 7px;
  border: 2px solid var(--tb-ink);
  border-radius: 50%;
  background: var(--tb-page);
}
li.back::before {
  border-radius: 0;
  transform: rotate(45deg);
}
li:not(:last-child)::after {
  content: '';
  position: absolute;
  left: 6px;
  top: 20px;
  bottom: -9px;
  border-left: 1px solid var(--tb-edge);
}
q {
  display: block;
  font-family: 'Literata Variable', Literata, Charter, serif;
  overflow-wrap: anywhere;
  white-space: pre-line;
}
</style>
