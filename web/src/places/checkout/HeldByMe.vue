<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import MomentField from '../../sentences/MomentField.vue'
import { useSaid } from '../../sentences/said'
import { useCheckout } from './acts'

/** What I have in hand: for what and until when, what others may meanwhile, and how it goes back. */
const props = defineProps<{ document: Schemas['Document']; held: Schemas['Held'] }>()
const { t } = useI18n()
const said = useSaid()
const { change, giveBack, store, busy, wrong } = useCheckout()
const note = ref('')
const meanwhile = computed(() => [false, true].map((value) => ({ value, words: t(value ? 'checkout.keeps' : 'checkout.lets') })))
function chosen(e: Event, last: boolean) {
  const field = e.target as HTMLInputElement
  if (field.files?.[0]) store(props.document.id, props.document.name, field.files[0], note.value, last)
  note.value = field.value = ''
}
</script>

<template>
  <section class="in-hand" data-held="me">
    <p class="terms">
      <b>{{ t('checkout.you') }}</b>
      {{ t('checkout.since', { when: said.when(held.since) }) }}
      {{ ' ' }}
      <WordField
        :label="t('checkout.what')"
        :value="held.note"
        :placeholder="t('checkout.whatHint')"
        may
        then="."
        @set="change(document.id, held, { note: $event })"
      />
      {{ ' ' }}{{ t('checkout.others') }}
      <SentenceSelect
        :model-value="held.keeps"
        :label="t('checkout.others')"
        :options="meanwhile"
        then="."
        @update:model-value="change(document.id, held, { keeps: $event })"
      />
    </p>
    <MomentField :label="t('checkout.back')" :at="held.back" @set="change(document.id, held, { back: $event })" />
    <div class="store">
      <input
        v-model="note"
        class="form-control"
        data-field="held-note"
        maxlength="200"
        :aria-label="t('versions.note')"
        :placeholder="t('versions.noteHint')"
        autocomplete="off"
      />
      <div class="acts">
        <label class="btn btn-primary btn-small">
          {{ t('checkout.checkInWith') }}
          <input type="file" class="visually-hidden" data-file="last" @change="chosen($event, true)" />
        </label>
        <label class="btn btn-plain btn-small">
          {{ t('checkout.store') }}
          <input type="file" class="visually-hidden" data-file="more" @change="chosen($event, false)" />
        </label>
        <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="giveBack(document.id, document.name)">
          {{ t('checkout.checkIn') }}
        </button>
      </div>
    </div>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
  </section>
</template>

<style scoped>
.terms {
  margin: 0 0 var(--tb-s2);
}
.store {
  display: grid;
  gap: var(--tb-s2);
  margin-top: var(--tb-s2);
}
.store .form-control {
  height: 30px;
}
.acts {
  flex-wrap: wrap;
}
.acts label:focus-within {
  outline: 2px solid var(--tb-action);
  outline-offset: 2px;
}
</style>
