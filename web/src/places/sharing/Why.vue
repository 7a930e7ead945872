<script setup lang="ts">
import { useWhy } from '../../queries/sharing'
import { useI18n } from 'vue-i18n'
import IconEye from '~icons/ph/eye'
import IconX from '~icons/ph/x'
import { type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useAccessWords } from './words'

/** Why somebody can open an item: one chain for each way. */
const props = defineProps<{ item: string; person: Schemas['Person']; dossier: string }>()
defineEmits<{ close: [] }>()
const { t } = useI18n()
const said = useSaid()
const words = useAccessWords()
const { data: answer, error } = useWhy(
  () => props.item,
  () => props.person.id,
)
</script>

<template>
  <div class="why">
    <div class="q">
      <p class="terms">{{ t('access.whyQuestion', { name: person.name }) }}</p>
      <button type="button" :aria-label="t('common.close')" @click="$emit('close')"><IconX aria-hidden="true" /></button>
    </div>
    <p v-if="error" class="t-caution">{{ said.problem(error) }}</p>
    <template v-else-if="answer">
      <p class="small">
        <b>{{ t('access.whyMay', { words: answer.words || t('access.whyNothing') }) }}</b>
        {{ ' ' }}
        <template v-if="answer.ends">{{ t('access.whyEnds', { when: said.when(answer.ends) }) }}</template>
      </p>
      <ol v-for="(w, i) in answer.ways" :key="i" class="chain" :aria-label="t('access.way', { n: i + 1 })">
        <li>
          <b :class="{ 'with-comma': person.outside }">{{ person.name }}</b>
          {{ person.outside ? t('access.guest') : '' }}
        </li>
        <li v-for="g in w.through" :key="g">
          {{ t('access.inGroup') }}
          <b>{{ g }}</b>
        </li>
        <li>
          {{ t('access.may') }}
          <b>{{ w.grant.words }}</b>
          <br />
          <span class="s">
            {{ w.grant.by ? t('access.by', { by: w.grant.by, when: said.when(w.grant.at) }) : said.when(w.grant.at)
            }}{{ w.grant.until ? `, ${t('access.until', { when: said.when(w.grant.until) })}` : '' }}
          </span>
        </li>
        <li>{{ w.asManager ? t('access.asManager') : words.where(w.grant, w.grant.itemId === item) }}</li>
      </ol>
      <RouterLink class="btn btn-plain btn-small" :to="`/dossiers/${dossier}?as=${person.id}`">
        <IconEye class="i i-s" aria-hidden="true" />
        {{ t('access.viewAs', { name: person.name.split(' ')[0] }) }}
      </RouterLink>
    </template>
    <p v-else class="small quiet">{{ t('common.loading') }}</p>
  </div>
</template>

<style scoped>
.why {
  border-top: 1px solid var(--tb-ink);
  padding: var(--tb-s2) 0 var(--tb-s3);
}
.q {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s2);
}
.q .terms {
  font-size: var(--tb-large);
  line-height: 24px;
}
.chain {
  margin: var(--tb-s2) 0;
  padding: 0;
  list-style: none;
  font-size: var(--tb-text);
  line-height: 19px;
}
.chain li {
  position: relative;
  padding: 0 0 8px 22px;
}
.chain li::before {
  content: '';
  position: absolute;
  left: 2px;
  top: 5px;
  width: 9px;
  height: 9px;
  border: 2px solid var(--tb-ink);
  border-radius: 50%;
  background: var(--tb-page);
  z-index: var(--tb-layer-head);
}
.chain li::after {
  content: '';
  position: absolute;
  left: 6px;
  top: 10px;
  bottom: -6px;
  border-left: 1.5px solid var(--tb-ink);
}
.chain li:last-child::before {
  background: var(--tb-ink);
}
.chain li:last-child::after {
  display: none;
}
.chain .s {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
</style>
