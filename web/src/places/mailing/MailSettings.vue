<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useSaid } from '../../sentences/said'

/** What becomes of the mails of a mail program, as a sentence whose words are chosen. */
const { program } = defineProps<{ program: Schemas['MailProgram'] }>()
const { t } = useI18n()
const said = useSaid()
const { act, wrong } = useAct()
const sizes = [0, 1_000_000, 5_000_000, 10_000_000, 25_000_000]
const words = computed(() => ({
  over: [...new Set([...sizes, program.over])]
    .sort((a, b) => a - b)
    .map((value) => ({ value: String(value), words: value ? t('mailing.overSome', { size: said.size(value) }) : t('mailing.over') })),
  numbers: [true, false].map((value) => ({ value, words: t(value ? 'mailing.numbersYes' : 'mailing.numbersNo') })),
  holds: [false, true].map((value) => ({ value, words: t(value ? 'mailing.holdsYes' : 'mailing.holdsNo') })),
}))
const set = (change: Partial<Schemas['MailSettings']>) => {
  const { over, numbers, holds } = program
  return act(() => api.PUT('/me/mail-programs/{id}', { params: { path: { id: program.id } }, body: { over, numbers, holds, ...change } }))
}
</script>

<template>
  <div>
    <b>{{ program.name }}</b>
    {{ ' ' }}
    <span class="small quiet">{{ program.used ? t('mailing.used', { when: said.when(program.used) }) : t('mailing.unused') }}</span>
    <p class="terms">
      {{ t('mailing.lead') }}
      <SentenceSelect
        :model-value="String(program.over)"
        :label="t('mailing.lead')"
        :options="words.over"
        @update:model-value="set({ over: Number($event) })"
      />
      {{ t('mailing.become') }}
      <SentenceSelect
        :model-value="program.numbers"
        :label="t('mailing.become')"
        :options="words.numbers"
        then=","
        @update:model-value="set({ numbers: $event })"
      />
      {{ t('mailing.then') }}
      <SentenceSelect
        :model-value="program.holds"
        :label="t('mailing.then')"
        :options="words.holds"
        then="."
        @update:model-value="set({ holds: $event })"
      />
    </p>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </div>
</template>
