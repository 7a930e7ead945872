<script setup lang="ts">
import { reactive } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { isNumber, type Particular } from '../../queries/particulars'

/** Defines a particular as a sentence: its name, what stands in it, in whose documents, and whether it must. */
const props = defineProps<{ before?: Particular; busy: boolean; wrong: string }>()
const emit = defineEmits<{ keep: [body: Schemas['NewParticular']]; discard: [] }>()
const { t } = useI18n()
type Kind = Particular['kind']
type Where = Schemas['DossierKind'] | 'all'
const kinds: Kind[] = ['text', 'number', 'money', 'date', 'choice', 'person']
const wheres: Where[] = ['all', 'client', 'internal', 'desk']
const form = reactive({
  name: props.before?.name ?? '',
  kind: props.before?.kind ?? ('text' as Kind),
  unit: props.before?.unit ?? '',
  choices: props.before?.choices?.join('\n') ?? '',
  required: props.before?.required ?? false,
  where: (props.before?.dossierKinds?.length === 1 ? props.before.dossierKinds[0] : 'all') as Where,
})
/** What was chosen for another kind is not passed on. */
function keep() {
  const { name, kind, required, where } = form
  emit('keep', {
    name,
    kind,
    required,
    unit: isNumber(form) ? form.unit.trim() || undefined : undefined,
    choices:
      kind === 'choice'
        ? form.choices
            .split('\n')
            .map((c) => c.trim())
            .filter(Boolean)
        : undefined,
    dossierKinds: where !== 'all' ? [where] : (props.before?.dossierKinds?.length ?? 0) > 1 ? props.before?.dossierKinds : undefined,
  })
}
</script>

<template>
  <form class="written definition" @submit.prevent="keep" @keydown.esc.stop="$emit('discard')">
    <div class="line">
      <input
        v-model="form.name"
        class="form-control"
        maxlength="60"
        required
        autofocus
        :aria-label="t('particulars.name')"
        :placeholder="t('particulars.name')"
      />
      <span class="terms">
        {{ t('particulars.is') }}
        <SentenceSelect
          v-model="form.kind"
          :label="t('particulars.kindLabel')"
          :options="kinds.map((k) => ({ value: k, words: t(`particulars.kind.${k}`) }))"
          then=","
        />
        <SentenceSelect
          v-model="form.where"
          :label="t('particulars.where')"
          :options="wheres.map((w) => ({ value: w, words: t(`particulars.in.${w}`) }))"
          then=","
        />
        <SentenceSelect
          v-model="form.required"
          :label="t('particulars.must')"
          :options="[
            { value: false, words: t('particulars.optional') },
            { value: true, words: t('particulars.required') },
          ]"
          then="."
        />
      </span>
    </div>
    <input
      v-if="isNumber(form)"
      v-model="form.unit"
      class="form-control unit"
      :aria-label="t(form.kind === 'money' ? 'particulars.currency' : 'particulars.unit')"
      :placeholder="t(form.kind === 'money' ? 'particulars.currency' : 'particulars.unit')"
      :required="form.kind === 'money'"
      maxlength="20"
    />
    <textarea
      v-if="form.kind === 'choice'"
      v-model="form.choices"
      class="form-control"
      rows="4"
      required
      :aria-label="t('particulars.choices')"
      :placeholder="t('particulars.choices')"
    ></textarea>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary btn-small" :disabled="busy || !form.name.trim()">
        {{ t(before ? 'particulars.keep' : 'particulars.define') }}
      </button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('discard')">{{ t('common.discard') }}</button>
    </div>
  </form>
</template>

<style scoped>
.definition {
  display: grid;
  gap: var(--tb-s2);
  padding: var(--tb-s3);
  margin-bottom: var(--tb-s2);
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s2);
  align-items: center;
}
.line .form-control {
  max-width: 240px;
}
.unit {
  max-width: 240px;
}
textarea {
  max-width: 420px;
}
</style>
