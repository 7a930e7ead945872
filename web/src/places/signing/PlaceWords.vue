<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { kinds, type Kind } from './placing'

/** A place as a sentence: who does what there, whether they must, and what else is to be said of it. */
const props = defineProps<{ place: Schemas['SigningPlace']; parties: string[]; pages: number }>()
defineEmits<{ remove: []; all: []; dated: [] }>()
const { t } = useI18n()
/** The place itself is changed: it is the editor's. */
const p = computed(() => props.place)
const written = computed(() => ['text', 'number', 'fixed', 'choice', 'date', 'tick', 'paper'].includes(p.value.kind))
function to(kind: Kind) {
  p.value.kind = kind
  if (kind === 'choice' && !p.value.choices?.length) p.value.choices = ['yes', 'no']
  if (kind === 'signed-on') p.value.must = false
}
</script>

<template>
  <div class="words">
    <p class="terms">
      <template v-if="place.kind !== 'fixed'">
        <SentenceSelect
          v-model="p.party"
          :label="t('signing.whose')"
          :options="parties.map((words, value) => ({ value, words })) as never"
        />
        {{ ' ' }}
      </template>
      <SentenceSelect
        :model-value="p.kind"
        :label="t('signing.what')"
        :options="kinds.map((value) => ({ value, words: t(`signing.does.${value}`) }))"
        :then="place.kind === 'signed-on' || place.kind === 'fixed' ? undefined : ','"
        @update:model-value="to($event)"
      />
      {{ ' ' }}
      <SentenceSelect
        v-if="place.kind !== 'signed-on' && place.kind !== 'fixed'"
        v-model="p.must"
        :label="t('signing.mustLabel')"
        :options="[true, false].map((value) => ({ value, words: t(value ? 'signing.must' : 'signing.may') }))"
        then="."
      />
    </p>
    <label v-if="written && place.kind !== 'fixed'" class="small">
      {{ t('signing.label') }}
      <input v-model="p.label" class="form-control form-control-sm" maxlength="200" />
    </label>
    <label v-if="place.kind === 'fixed'" class="small">
      {{ t('signing.value') }}
      <input v-model="p.value" class="form-control form-control-sm" maxlength="2000" />
    </label>
    <label v-if="place.kind === 'text'" class="small">
      {{ t('signing.most') }}
      <input v-model.number="p.most" type="number" min="0" max="2000" class="form-control form-control-sm" />
    </label>
    <label v-if="place.kind === 'choice'" class="small">
      {{ t('signing.choices') }}
      <input
        class="form-control form-control-sm"
        :value="place.choices?.join(', ')"
        @change="
          p.choices = ($event.target as HTMLInputElement).value
            .split(',')
            .map((s) => s.trim())
            .filter(Boolean)
        "
      />
    </label>
    <p class="plus-row">
      <button v-if="place.kind === 'signature'" type="button" class="plus" @click="$emit('dated')">{{ t('signing.plusDate') }}</button>
      <button v-if="pages > 1" type="button" class="plus" @click="$emit('all')">{{ t('signing.plusAll') }}</button>
      <button type="button" class="plus" @click="$emit('remove')">{{ t('signing.remove') }}</button>
    </p>
  </div>
</template>

<style scoped>
.words {
  padding: var(--tb-s2) 0;
}
label {
  display: block;
  margin-top: var(--tb-s2);
}
</style>
