<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSession } from '../../app/session'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import type { RegisterOnly } from '../../queries/dossiers'
import type { Particular } from '../../queries/particulars'
import { useDirectory } from '../../queries/people'
import { useTags } from '../../queries/tags'
import { kinds } from '../../queries/find'
import { useValueWords } from '../particulars/value'

/** What a register is narrowed down to, as a word of its sentence that opens. */
const props = defineProps<{ defined: Particular[] }>()
const only = defineModel<RegisterOnly>({ required: true })
const { t } = useI18n()
const store = useSession()
const inside = computed(() => store.session?.standing !== 'guest')
const { data: people } = useDirectory(inside)
const { data: tags } = useTags()
const { words: valueWords } = useValueWords()
const open = ref(false)
const box = ref<HTMLElement>()
onClickOutside(box, () => (open.value = false))
const set = (more: RegisterOnly) => (only.value = { ...only.value, ...more })
const one = <K extends 'kind' | 'person' | 'tag'>(name: K) =>
  computed({ get: () => (only.value[name] ?? '') as string, set: (v) => set({ [name]: v || undefined }) })
const [kind, person, tag] = [one('kind'), one('person'), one('tag')]
const linked = computed({ get: () => (only.value.linked ? 'yes' : ''), set: (v) => set({ linked: v === 'yes' || undefined }) })
const personName = computed(() => people.value?.accounts.find((a) => a.person.id === only.value.person)?.person.name ?? '…')
const tagName = computed(() => tags.value?.find((g) => g.id === only.value.tag)?.name ?? '…')
const particular = computed(() => props.defined.find((p) => p.id === only.value.where))
const value = computed(() => {
  const p = particular.value
  if (!p) return ''
  if (!only.value.value) return t('dossier.group.without', { name: p.name })
  const who = people.value?.accounts.find((a) => a.person.id === only.value.value)?.person.name
  return `${p.name}: ${valueWords(p, only.value.value, who)}`
})
const words = computed(() => {
  const o = only.value
  const what = o.kind ? t(`find.kind.${o.kind}`) : t('dossier.only.everything')
  const more = [
    o.person && t('dossier.only.by', { name: personName.value }),
    o.tag && t('dossier.only.tagged', { name: tagName.value }),
    o.linked && t('dossier.only.linked'),
    value.value,
  ].filter(Boolean)
  return [what, ...more].join(', ')
})
const options = computed(() => ({
  kinds: [{ value: '', words: t('dossier.only.everything') }, ...kinds.map((k) => ({ value: k as string, words: t(`find.kind.${k}`) }))],
  people: [
    { value: '', words: t('find.anyone') },
    ...(people.value?.accounts ?? []).map((a) => ({ value: a.person.id, words: a.person.name })),
  ],
  tags: [
    { value: '', words: t('find.anyTag') },
    ...(tags.value ?? []).map((g) => ({ value: g.id, words: t(g.own ? 'find.withOwnTag' : 'find.withTag', { name: g.name }) })),
  ],
  links: [
    { value: '', words: t('dossier.only.anyReach') },
    { value: 'yes', words: t('dossier.only.linked') },
  ],
}))
const narrowed = computed(() => Object.values(only.value).some(Boolean))
</script>

<template>
  <span ref="box" class="only" @keydown.esc.stop="open = false">
    <span class="with-comma">
      <button type="button" class="w" :aria-expanded="open" @click="open = !open">{{ words }}</button>
    </span>
    <fieldset v-if="open" class="panel">
      <legend class="visually-hidden">{{ t('dossier.only.label') }}</legend>
      <div><SentenceSelect v-model="kind" :label="t('find.kindLabel')" :options="options.kinds" /></div>
      <div v-if="inside">
        {{ t('find.by') }}
        <SentenceSelect v-model="person" :label="t('dossier.columns.person')" :options="options.people" />
      </div>
      <div v-if="tags?.length"><SentenceSelect v-model="tag" :label="t('find.tagLabel')" :options="options.tags" /></div>
      <div><SentenceSelect v-model="linked" :label="t('dossier.only.reach')" :options="options.links" /></div>
      <div v-if="particular">{{ value }}</div>
      <button v-if="narrowed" type="button" class="go small" @click="((only = {}), (open = false))">{{ t('dossier.only.all') }}</button>
    </fieldset>
  </span>
</template>

<style scoped>
.only {
  position: relative;
}
.panel {
  position: absolute;
  top: 100%;
  left: 0;
  z-index: var(--tb-layer-menu);
  display: grid;
  gap: var(--tb-s2);
  min-width: 260px;
  padding: var(--tb-s3);
  background: var(--tb-sheet);
  border: 1px solid var(--tb-edge);
}
</style>
