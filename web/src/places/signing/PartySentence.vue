<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import Letter from './Letter.vue'
import { letterOf } from './placing'

/** A party of a form as a sentence: what it is, who that is each time, what it does, and when. */
const props = defineProps<{
  party: Schemas['SigningParty']
  at: number
  before?: Schemas['SigningParty']
  colleagues: { id: string; name: string }[]
  may: boolean
}>()
defineEmits<{ remove: [] }>()
const { t } = useI18n()
/** The party itself is changed: it is the editor's. */
const p = computed(() => props.party)
const who = computed(() => [
  { value: '', words: t('signforms.named') },
  ...props.colleagues.map((c) => ({ value: c.id, words: t('signforms.always', { name: c.name }) })),
])
function name(id: string) {
  const c = props.colleagues.find((o) => o.id === id)
  p.value.person = c?.id
  p.value.name = c?.name ?? ''
  p.value.email = ''
  if (c) p.value.known = 'sign-in'
  else if (p.value.known === 'sign-in') p.value.known = 'link'
}
const turn = computed({
  get: () => (props.before && props.before.turn === p.value.turn ? 'beside' : 'then'),
  set: (v) => (p.value.turn = props.before!.turn + (v === 'then' ? 1 : 0)),
})
</script>

<template>
  <p class="terms party">
    <Letter :letter="letterOf(at)" />
    {{ ' ' }}
    <WordField
      :label="t('signforms.role')"
      :value="party.role"
      :placeholder="t('signforms.rolePlaceholder')"
      :may="may"
      then=","
      @set="p.role = $event"
    />
    <SentenceSelect
      :model-value="party.person ?? ''"
      :label="t('signforms.who')"
      :options="who"
      then=","
      @update:model-value="name($event)"
    />
    <SentenceSelect
      v-model="p.signs"
      :label="t('signforms.what')"
      :options="[true, false].map((value) => ({ value, words: t(value ? 'signforms.signs' : 'signforms.fills') }))"
      :then="party.person && !before ? '.' : ','"
    />
    <SentenceSelect
      v-if="before"
      v-model="turn"
      :label="t('signing.order')"
      :options="
        (['then', 'beside'] as const).map((value) => ({ value, words: t(`signforms.turn.${value}`, { letter: letterOf(at - 1) }) }))
      "
      :then="party.person ? '.' : ','"
    />
    <SentenceSelect
      v-if="!party.person"
      v-model="p.known"
      :label="t('signing.identity')"
      :options="(['link', 'code', 'sign-in'] as const).map((value) => ({ value, words: t(`signing.identities.${value}`) }))"
      then=","
    />
    <SentenceSelect
      v-if="!party.person"
      v-model="p.mayHand"
      :label="t('signing.handing')"
      :options="[false, true].map((value) => ({ value, words: t(value ? 'signing.mayHand' : 'signing.mayNotHand') }))"
      then="."
    />
    <button v-if="at" type="button" class="plus" @click="$emit('remove')">{{ t('signforms.lessParty') }}</button>
  </p>
</template>

<style scoped>
.party {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 0.35em;
  margin: 2px 0;
}
.party :deep(.letter) {
  align-self: center;
}
</style>
