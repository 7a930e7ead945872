<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../api/client'
import { useRouteWords, type RouteNames } from './route'

/** A route as it is read: numbered sentences, and the stop at which a run stands marked. */
const props = defineProps<{ definition: Schemas['RouteDefinition']; names: RouteNames; at?: number }>()
const { t } = useI18n()
const words = useRouteWords(() => props.names)
/** A sentence begins with a capital, where nothing stands before it. */
const begun = (text: string, after?: unknown) => (after ? text : text.charAt(0).toUpperCase() + text.slice(1))
const letter = (i: number) => String.fromCharCode(97 + i)
const starts = computed(() => props.definition.starts.map(words.start).join(t('routes.orStart')))
</script>

<template>
  <ol class="sentences">
    <li v-if="!(definition.starts.length === 1 && definition.starts[0]!.on === 'hand' && definition.stops.length === 1)">
      <i aria-hidden="true">·</i>
      <p>
        {{ t('routes.when', { starts }) }}
        <template v-if="definition.if">{{ t('routes.onlyIf', { condition: words.condition(definition.if) }) }}</template>
      </p>
    </li>
    <li v-for="(s, i) in definition.stops" :key="i" :class="{ now: at === i + 1 }" :aria-current="at === i + 1 ? 'step' : undefined">
      <i>{{ i + 1 }}</i>
      <p v-if="s.cases.length === 1">
        <template v-if="s.only">{{ t('routes.only', { condition: words.condition(s.only) }) }}</template>
        {{ begun(words.action(s.cases[0]!), s.only) }}.
      </p>
      <div v-else>
        <p v-if="s.only">{{ t('routes.only', { condition: words.condition(s.only) }) }}</p>
        <p v-for="(c, j) in s.cases" :key="j">
          <span class="no">{{ i + 1 }}{{ letter(j) }}</span>
          {{ c.when ? t('routes.case', { condition: words.condition(c.when) }) : t('routes.otherwise') }} {{ words.action(c) }};
        </p>
      </div>
    </li>
  </ol>
</template>

<style scoped>
.sentences {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 36px minmax(0, 1fr);
  padding: 7px 0;
  border-bottom: 1px solid var(--tb-line);
}
li p {
  margin: 0;
  font-family: 'Literata Variable', Literata, Charter, serif;
  font-size: var(--tb-read);
  line-height: 1.5;
  overflow-wrap: anywhere;
}
i {
  font-style: normal;
  font-size: var(--tb-small);
  width: 22px;
  height: 22px;
  line-height: 20px;
  text-align: center;
  border: 1px solid var(--tb-edge);
  border-radius: 50%;
}
.now i {
  background: var(--tb-action);
  border-color: var(--tb-action);
  color: var(--tb-on-action);
}
.no {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
  margin-right: var(--tb-s1);
}
</style>
