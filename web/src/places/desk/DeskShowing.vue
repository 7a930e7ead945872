<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDossiers } from '../../queries/dossiers'
import { useDirectory } from '../../queries/people'
import { fileTypes } from '../../sentences/filetypes'
import type { Showing } from './given'

/** The sentence by which one says what is shown. */
const showing = defineModel<Showing>({ required: true })
const { t } = useI18n()
const byMe = computed(() => showing.value.what === 'byMe')
const { data: dossiers } = useDossiers()
const { data: directory } = useDirectory(byMe)
const whats = computed(() => (['toMe', 'pinned', 'byMe'] as const).map((value) => ({ value, words: t(`desk.${value}`) })))
const kinds = computed(() => [
  { value: '' as const, words: t('desk.anyKind') },
  { value: 'folder' as const, words: t('desk.folders') },
  { value: 'document' as const, words: t('desk.documents') },
  ...fileTypes.map((value) => ({ value, words: t(`common.fileType.${value}`) })),
])
const froms = computed(() => [
  { value: '', words: t('outward.anyDossier') },
  ...(dossiers.value ?? []).map((d) => ({ value: d.code, words: `${d.code} ${d.name}` })),
])
const ends = computed(() => [
  { value: false, words: t('desk.anyEnd') },
  { value: true, words: t(byMe.value ? 'desk.endsSoon' : 'desk.hasEnd') },
])
const ways = computed(() => [
  { value: '' as const, words: t('desk.anyWay') },
  { value: 'people' as const, words: t('desk.toPeople') },
  { value: 'link' as const, words: t('desk.byLink') },
])
const people = computed(() => [
  { value: '', words: t('desk.anyone') },
  ...(directory.value?.accounts ?? [])
    .filter((a) => !a.ended)
    .map((a) => ({ value: a.person.id, words: t('desk.toName', { name: a.person.name }) })),
])
</script>

<template>
  <div class="showing">
    <span>
      {{ t('desk.showing') }}
      <SentenceSelect v-model="showing.what" :label="t('desk.showing')" :options="whats" then="," />
      {{ ' ' }}
      <SentenceSelect v-model="showing.kind" :label="t('desk.kindLabel')" :options="kinds" />
      {{ t('outward.from') }}
      <SentenceSelect v-model="showing.dossier" :label="t('outward.from')" :options="froms" then="," />
      {{ ' ' }}
      <SentenceSelect v-model="showing.ending" :label="t('desk.endingLabel')" :options="ends" :then="byMe ? ',' : undefined" />
      <template v-if="byMe">
        {{ ' ' }}
        <SentenceSelect
          v-model="showing.way"
          :label="t('desk.wayLabel')"
          :options="ways"
          :then="showing.way === 'link' ? undefined : ','"
        />
        {{ ' ' }}
        <SentenceSelect v-if="showing.way !== 'link'" v-model="showing.person" :label="t('desk.whomLabel')" :options="people" />
      </template>
    </span>
  </div>
</template>
