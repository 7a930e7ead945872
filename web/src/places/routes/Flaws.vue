<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** What does not hold of a word, where it stands, and a way out where there is one. */
const props = defineProps<{ problems: Schemas['RouteProblem'][]; at: string; exact?: boolean }>()
const emit = defineEmits<{ fix: [problem: Schemas['RouteProblem']] }>()
const { t } = useI18n()
const said = useSaid()
const here = computed(() => props.problems.filter((p) => p.at === props.at || (!props.exact && p.at.startsWith(`${props.at}/`))))
const number = (v?: string) => (v && Number.isFinite(Number(v)) ? said.number(Number(v)) : (v ?? ''))
function words(p: Schemas['RouteProblem']) {
  if (p.code === 'gap' && p.from === 'not-set') return t('routes.flaw.gapUnset')
  if (p.code === 'gap' && p.from && p.to) return t('routes.flaw.gapBetween', { from: number(p.from), to: number(p.to) })
  if (p.code === 'gap' && p.from) return t('routes.flaw.gapFrom', { from: number(p.from) })
  return t(`routes.flaw.${p.code}`, { from: p.from, to: p.to })
}
</script>

<template>
  <ul v-if="here.length" class="flaws" role="alert">
    <li v-for="p in here" :key="p.at + p.code">
      <span aria-hidden="true">◆</span>
      {{ words(p) }}
      <button v-if="p.fix" type="button" class="btn btn-plain btn-small" @click="emit('fix', p)">
        {{ t('routes.fix', { value: number(p.fix) }) }}
      </button>
    </li>
  </ul>
</template>

<style scoped>
.flaws {
  list-style: none;
  margin: var(--tb-s1) 0;
  padding: var(--tb-s2) var(--tb-s3);
  border: 1px solid var(--tb-caution);
  border-radius: 3px;
  background: var(--tb-caution-wash);
  color: var(--tb-caution-text);
  font-size: var(--tb-small);
}
</style>
