<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useParticularsTogether } from '../../queries/particulars'
import OneParticular from './OneParticular.vue'
import { useValueWords } from './value'

/** What is kept about several documents: what stands in all of them, what numbers add up to; written for all at once. */
const props = defineProps<{ documents: string[]; mayChange: boolean }>()
const { t } = useI18n()
const { data: all } = useParticularsTogether(() => props.documents)
const { words } = useValueWords()
function several(p: Schemas['ParticularTogether']) {
  if (p.same || !p.filled) return undefined
  const all = props.documents.length
  return p.filled === all ? t('particulars.differ') : t('particulars.several', { n: p.filled, all })
}
</script>

<template>
  <section v-if="all?.length">
    <h3 class="visually-hidden">{{ t('particulars.title') }}</h3>
    <dl>
      <OneParticular
        v-for="p in all"
        :key="p.particular.id"
        :particular="p.particular"
        :value="p.same"
        :person="p.person"
        :several="several(p)"
        :documents="documents"
        :may-change="mayChange"
      >
        <span v-if="p.sum" class="small quiet sum">{{ t('particulars.sum', { sum: words(p.particular, p.sum) }) }}</span>
      </OneParticular>
    </dl>
  </section>
</template>

<style scoped>
dl {
  margin: 0;
  padding: var(--tb-s2) 0;
}
.sum {
  display: block;
  font-family: var(--bs-font-sans-serif);
}
</style>
