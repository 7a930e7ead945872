<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useDecisionWords } from './words'

/** A run as a line with its stops: what was done and by whom, where it stands and until when, what lies ahead. */
const props = defineProps<{ line: Schemas['RunLine'] }>()
const { t } = useI18n()
const said = useSaid()
const words = useDecisionWords()
const letter = (n?: number) => (n ? String.fromCharCode(96 + n) : '')
const due = computed(() => words.dueOf(props.line))
const isNow = (s: Schemas['RunStop']) => ['now', 'held', 'back'].includes(s.state)
</script>

<template>
  <ol class="way">
    <li v-for="s in line.stops" :key="s.number" :class="s.state" :aria-current="isNow(s) ? 'step' : undefined">
      <i aria-hidden="true">{{ s.state === 'held' ? '' : `${s.number}${letter(s.case)}` }}</i>
      <b>
        <span class="visually-hidden">{{ s.number }}</span>
        {{ s.state === 'passed' ? t(`decisions.did.${s.do}`) : t(`decisions.do.${s.do}`) }}
      </b>
      <template v-if="s.state === 'passed'">
        <span v-for="name in s.who" :key="name">{{ name }}</span>
        <span v-if="s.till" class="quiet" :title="said.full(s.till)">{{ said.when(s.till) }}</span>
      </template>
      <template v-else-if="isNow(s)">
        <span v-if="line.back">{{ t('decisions.stateBack', { who: line.back.name }) }}</span>
        <span v-else-if="line.status === 'held'">{{ t('decisions.stateHeld') }}</span>
        <template v-else>
          <span v-for="p in line.waitsFor" :key="p.id">
            {{ p.id === words.me() ? t('decisions.waitsYou') : p.for ? t('decisions.instead', { name: p.name, for: p.for }) : p.name }}
          </span>
          <span v-if="due" class="quiet" :title="said.full(due)">{{ t('decisions.due', { when: said.when(due) }) }}</span>
        </template>
      </template>
    </li>
  </ol>
</template>

<style scoped>
.way {
  list-style: none;
  margin: var(--tb-s4) 0;
  padding: 0;
  display: flex;
  overflow-x: auto;
}
li {
  position: relative;
  flex: 1 0 112px;
  max-width: 190px;
  padding: 34px var(--tb-s3) 0 0;
  font-size: var(--tb-small);
  display: flex;
  flex-direction: column;
}
li::before {
  content: '';
  position: absolute;
  top: 11px;
  left: 11px;
  right: -11px;
  border-top: 1px dashed var(--tb-edge);
}
li:last-child::before {
  display: none;
}
.passed::before {
  border-top: 2px solid var(--tb-ink);
  top: 10px;
}
i {
  position: absolute;
  top: 0;
  left: 0;
  min-width: 22px;
  height: 22px;
  padding: 0 3px;
  line-height: 20px;
  text-align: center;
  border: 1px solid var(--tb-edge);
  border-radius: 11px;
  background: var(--tb-page);
  font-style: normal;
  font-size: var(--tb-small);
}
.passed i {
  background: var(--tb-ink);
  border-color: var(--tb-ink);
  color: var(--tb-sheet);
}
.now i,
.back i {
  background: var(--tb-action);
  border-color: var(--tb-action);
  color: var(--tb-on-action);
}
.held i {
  border-radius: 0;
  background: var(--tb-ink);
  border-color: var(--tb-ink);
}
.by,
.skipped {
  color: var(--tb-quiet);
}
@media (max-width: 720px) {
  .way {
    display: block;
  }
  li {
    max-width: none;
    padding: 0 0 var(--tb-s3) 34px;
    min-height: 34px;
  }
  li::before {
    top: 22px;
    bottom: 0;
    left: 11px;
    right: auto;
    border-top: 0;
    border-left: 1px dashed var(--tb-edge);
  }
  .passed::before {
    top: 22px;
    border-top: 0;
    border-left: 2px solid var(--tb-ink);
  }
}
</style>
