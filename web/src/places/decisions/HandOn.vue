<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useNameable } from '../../queries/remarks'
import WriteHere from './WriteHere.vue'

/** Somebody else decides: in one's own place, or, for those who look after the run, in anybody's. Only who can open the document is offered. */
const props = defineProps<{ item: string; asked: Schemas['DecisionPerson'][]; mine?: string; busy: boolean; wrong: string }>()
const emit = defineEmits<{ do: [from: string | undefined, to: { id: string; name: string }, note: string]; close: [] }>()
const { t } = useI18n()
const { data: seers } = useNameable(
  () => props.item,
  () => true,
)
const offered = computed(() => (seers.value ?? []).filter((p) => !props.asked.some((a) => a.id === p.id)))
const from = ref(props.mine ?? props.asked[0]?.id ?? '')
const to = ref('')
function hand(note: string) {
  const person = offered.value.find((p) => p.id === to.value)
  if (person) emit('do', from.value || undefined, person, note)
}
</script>

<template>
  <WriteHere
    :label="t('decisions.note')"
    :act="t('decisions.handOnDo')"
    :busy="busy || !to"
    :wrong="wrong"
    @do="hand"
    @close="emit('close')"
  >
    <p class="terms">
      <template v-if="!mine && asked.length > 1">
        {{ t('decisions.instead0') }}
        <SentenceSelect
          v-model="from"
          :label="t('decisions.instead0')"
          :options="asked.map((a) => ({ value: a.id as string, words: a.name }))"
          then=","
        />
        {{ ' ' }}
      </template>
      {{ t('decisions.handTo') }}
      <SentenceSelect
        v-model="to"
        :label="t('decisions.handTo')"
        :options="[{ value: '', words: t('routes.pick') }, ...offered.map((p) => ({ value: p.id as string, words: p.name }))]"
      />
    </p>
  </WriteHere>
</template>
