<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useParticularsOn } from '../../queries/particulars'
import OneParticular from './OneParticular.vue'

/** What is kept about a document beside its content. */
const props = defineProps<{ document: string; mayChange: boolean }>()
const { t } = useI18n()
const { data: all } = useParticularsOn(() => props.document)
</script>

<template>
  <section v-if="all?.length">
    <h3 class="visually-hidden">{{ t('particulars.title') }}</h3>
    <dl>
      <OneParticular
        v-for="v in all"
        :key="`${document} ${v.particular.id}`"
        :particular="v.particular"
        :value="v.value"
        :person="v.person"
        :documents="[document]"
        :may-change="mayChange"
      />
    </dl>
  </section>
</template>

<style scoped>
dl {
  margin: 0;
  padding: var(--tb-s2) 0;
}
</style>
