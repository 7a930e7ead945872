<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import Door from '../../parts/Door.vue'
import { useSaid } from '../../sentences/said'
import WritingSentence from '../../sentences/WritingSentence.vue'
import AllowedField from '../links/AllowedField.vue'
import TermGloss from '../links/TermGloss.vue'
import type { Term, Writing } from '../links/writing'

/** The terms of a transfer as a sentence that is written: its words, what could be added, and why it is refused. */
const { writing, without } = defineProps<{ writing: Writing; /** A term that is not offered here. */ without?: string }>()
const { t } = useI18n()
const said = useSaid()
const { opened, draft, error, refused, controls } = writing
const offers = computed(() => draft.value?.offers.filter((o) => o !== without) ?? [])
const toggle = (term: Term) => (opened.value = opened.value === term ? undefined : term)
</script>

<template>
  <div class="write">
    <h2 class="acts sheet-title">
      <Door state="open" />
      {{ t('transfers.terms') }}
    </h2>
    <template v-if="draft">
      <WritingSentence :sentence="draft.sentence" :controls="controls" :open="opened" :refused="refused" @toggle="toggle">
        <TermGloss :writing="writing" />
      </WritingSentence>
      <AllowedField :writing="writing" />
      <div class="plus-row">
        <button v-for="o in offers" :key="o" type="button" class="plus" @click="writing.add(o)">{{ t(`handout.plus.${o}`) }}</button>
      </div>
      <p v-if="draft.ownUntil" class="small quiet">{{ t('access.ownUntil', { when: said.when(draft.ownUntil) }) }}</p>
      <slot></slot>
    </template>
    <p v-if="error || draft?.refused" class="t-caution" role="alert">
      {{ error ? said.problem(error) : t(`problem.${draft?.refused?.code}`) }}
    </p>
  </div>
</template>
