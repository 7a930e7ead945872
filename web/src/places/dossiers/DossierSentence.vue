<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { onArrows, tabStop } from '../../parts/arrows'

/** What a dossier is called and about, as a sentence whose words are its fields. Its code is written once, when it is made. */
export interface DossierWords {
  code: string
  name: string
  kind: 'client' | 'internal'
  client: string
  subject: string
}
const words = defineModel<DossierWords>({ required: true })
/** One begins with the code, or where that is there already with the name. */
const props = defineProps<{ sentence: string; made?: boolean; named?: boolean; wrong?: string }>()
const { t } = useI18n()
const withSubject = ref(props.made ?? false)
const first = ref<HTMLInputElement>()
const second = ref<HTMLInputElement>()
onMounted(() => (props.named && words.value.code ? second : first).value?.focus())
const fault = (name: string) => props.wrong === name
</script>

<template>
  <div class="terms writing">
    {{ sentence }}
    <b v-if="made" class="no">{{ words.code }}</b>
    <input
      v-else
      ref="first"
      v-model="words.code"
      class="field no"
      :aria-label="t('dossiers.codeWord')"
      :aria-invalid="fault('code')"
      placeholder="PEL-12"
      size="8"
      required
    />
    {{ t('dossiers.called') }}
    <input
      ref="second"
      v-model="words.name"
      class="field"
      :aria-label="t('dossiers.nameWord')"
      :aria-invalid="fault('name')"
      :placeholder="t('dossiers.nameWord')"
      size="18"
      required
    />
    {{ t('dossiers.of') }}
    <span
      role="radiogroup"
      :aria-label="t('dossiers.of')"
      @keydown="onArrows"
      :class="words.kind === 'client' ? 'with-comma' : 'with-stop'"
    >
      <button
        v-for="k in ['client', 'internal'] as const"
        :key="k"
        type="button"
        role="radio"
        class="kind"
        :aria-checked="words.kind === k"
        :tabindex="tabStop(words.kind === k, false, false)"
        @click="words.kind = k"
      >
        {{ t(`dossiers.${k}`) }}
      </button>
    </span>
    <template v-if="words.kind === 'client'">
      {{ t('dossiers.for') }}
      <span class="with-stop">
        <input
          v-model="words.client"
          class="field"
          :aria-label="t('dossiers.clientWord')"
          :aria-invalid="fault('client')"
          :placeholder="t('dossiers.clientWord')"
          size="16"
        />
      </span>
    </template>
  </div>
  <div class="plus-row">
    <button v-if="!withSubject" type="button" class="plus" @click="withSubject = true">{{ t('dossiers.subjectWord') }}</button>
    <input
      v-else
      v-model="words.subject"
      class="field small"
      :aria-label="t('dossiers.subject')"
      :aria-invalid="fault('subject')"
      :placeholder="t('dossiers.subject')"
      size="40"
    />
  </div>
</template>

<style scoped>
.field {
  font: inherit;
  font-weight: 600;
  color: var(--tb-ink);
  background: transparent;
  border: 0;
  border-bottom: 1px solid var(--tb-action);
  padding: 0 2px;
  max-width: 100%;
}
.field:focus {
  outline: 0;
  background: var(--tb-selection);
  box-shadow: 0 1px 0 var(--tb-action);
}
.field[aria-invalid='true'] {
  border-bottom: 2px solid var(--tb-caution);
}
.field::placeholder {
  color: var(--tb-quiet);
  font-weight: 400;
  opacity: 0.8;
}
.kind {
  padding: 0 6px;
  color: var(--tb-quiet);
  text-decoration: underline dotted;
  text-underline-offset: 0.28em;
  text-decoration-color: var(--tb-rule);
}
.kind[aria-checked='true'] {
  color: var(--tb-ink);
  font-weight: 600;
  text-decoration: underline;
  text-decoration-color: var(--tb-action);
}
</style>
