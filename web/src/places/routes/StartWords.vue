<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import type { useRouteWords } from '../../sentences/route'

/** What starts a route, as words that are its controls. */
const start = defineModel<Schemas['RouteStart']>({ required: true })
const props = defineProps<{
  first: boolean
  here: string
  words: ReturnType<typeof useRouteWords>
  folders: { id: string; name: string; number: string }[]
  routes: { id: string; name: string }[]
}>()
const { t } = useI18n()
const set = (change: Partial<Schemas['RouteStart']>) => (start.value = { ...start.value, ...change })
const triggers = [
  'arrives',
  'moved',
  'version',
  'renamed',
  'deleted',
  'folder',
  'shared',
  'resolved',
  'tag',
  'particular',
  'decided',
  'signed',
  'date',
  'hand',
] as const
const folders = computed(() => [
  { value: '', words: props.here || t('routes.here') },
  ...(start.value.folder && !props.folders.some((f) => f.id === start.value.folder)
    ? [{ value: start.value.folder as string, words: props.words.folder(start.value.folder) }]
    : []),
  ...props.folders.map((f) => ({ value: f.id, words: `${f.number} ${f.name}` })),
])
const data = computed(() => props.words.particulars.value.filter((p) => start.value.on !== 'date' || p.kind === 'date'))
const pick = { value: '', words: t('routes.pick') }
</script>

<template>
  <span class="start">
    {{ first ? t('routes.when', { starts: '' }).split(',')[0] : t('routes.orStart') }}
    {{ ' ' }}
    <SentenceSelect
      :model-value="start.on"
      :label="t('routes.word.start')"
      :options="triggers.map((value) => ({ value, words: t(`routes.startOption.${value}`) }))"
      @update:model-value="start = { on: $event, folder: start.folder }"
    />
    <template v-if="start.on === 'tag'">
      {{ ': ' }}
      <SentenceSelect
        :model-value="start.tag ?? ''"
        :label="t('routes.word.tag')"
        :options="[pick, ...words.tags.value.filter((g) => !g.own).map((g) => ({ value: g.id as string, words: g.name }))]"
        @update:model-value="set({ tag: $event || undefined })"
      />
    </template>
    <template v-if="start.on === 'particular' || start.on === 'date'">
      {{ ': ' }}
      <SentenceSelect
        :model-value="start.particular ?? ''"
        :label="t('routes.word.particular')"
        :options="[pick, ...data.map((p) => ({ value: p.id as string, words: p.name }))]"
        @update:model-value="set({ particular: $event || undefined })"
      />
    </template>
    <template v-if="start.on === 'date'">
      {{ ', ' }}
      <WordField
        :label="t('routes.word.days')"
        :value="String(start.days ?? 0)"
        may
        @set="set({ days: Math.trunc(Number($event)) || undefined })"
      />
      {{ ` ${t('routes.word.days')}` }}
    </template>
    <template v-if="start.on === 'decided'">
      {{ ': ' }}
      <SentenceSelect
        :model-value="start.route ?? ''"
        :label="t('routes.word.route')"
        :options="[{ value: '', words: t('routes.anyRoute') }, ...routes.map((r) => ({ value: r.id, words: r.name }))]"
        @update:model-value="set({ route: $event || undefined })"
      />
    </template>
    {{ ' · ' }}
    <SentenceSelect
      :model-value="start.folder ?? ''"
      :label="t('routes.word.folder')"
      :options="folders"
      @update:model-value="set({ folder: $event || undefined })"
    />
  </span>
</template>
