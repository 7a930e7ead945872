<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDirectory } from '../../queries/people'

/** Whom a stop asks or tells: people, groups and roles, each a word; one more at the end. */
const who = defineModel<Schemas['Who'][]>({ required: true })
const props = defineProps<{ label: string; name: (w: Schemas['Who']) => string }>()
const { t } = useI18n()
const { data: directory } = useDirectory()
const keyOf = (w: Schemas['Who']) => (w.role ? `role ${w.role}` : w.group ? `group ${w.group}` : `person ${w.person}`)
const of = (key: string): Schemas['Who'] => {
  const [kind, id] = key.split(' ') as [string, string]
  return { [kind]: id }
}
const options = computed(() => [
  ...(['author', 'starter', 'approver', 'managers'] as const).map((r) => ({ value: `role ${r}`, words: t(`routes.role.${r}`) })),
  ...(directory.value?.groups ?? []).map((g) => ({ value: `group ${g.id}`, words: g.name })),
  ...(directory.value?.accounts ?? []).filter((a) => !a.ended).map((a) => ({ value: `person ${a.person.id}`, words: a.person.name })),
])
const free = computed(() => options.value.filter((o) => !who.value.some((w) => keyOf(w) === o.value)))
const add = computed({ get: () => '', set: (key: string) => key && (who.value = [...who.value, of(key)]) })
const leave = (i: number) => (who.value = who.value.filter((_, j) => j !== i))
</script>

<template>
  <span class="whos">
    <span v-for="(w, i) in who" :key="keyOf(w)" :class="{ 'with-comma': i < who.length - 1 }">
      <button type="button" class="w" :title="t('routes.minus')" :aria-label="`${t('routes.minus')}: ${props.name(w)}`" @click="leave(i)">
        {{ props.name(w) }}
      </button>
    </span>
    {{ ' ' }}
    <SentenceSelect
      v-model="add"
      class="more"
      :label="label"
      :options="[{ value: '', words: who.length ? '+' : t('routes.pick') }, ...free]"
    />
  </span>
</template>
