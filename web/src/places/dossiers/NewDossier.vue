<script setup lang="ts">
import { onArrows, tabStop } from '../../parts/arrows'
import { onMounted, reactive, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import { tell } from '../../app/toasts'

/** A dossier is written as a sentence whose words are its fields. */
defineEmits<{ discard: [] }>()
const { t } = useI18n()
const router = useRouter()
const words = reactive({ code: '', name: '', kind: 'client' as 'client' | 'internal', client: '', subject: '' })
const withSubject = ref(false)
const first = ref<HTMLInputElement>()
onMounted(() => first.value?.focus())

const { act, busy, wrong, field } = useAct()
const make = () =>
  act(async () => {
    const made = await data(api.POST('/dossiers', { body: { ...words, client: words.kind === 'client' ? words.client : '' } }))
    tell(t('dossiers.made', { code: made.code }))
    await router.push(`/dossiers/${made.code}`)
  })
const fault = (name: string) => field.value === name
</script>

<template>
  <form class="written" @submit.prevent="make" @keydown.esc="$emit('discard')">
    <div class="terms writing">
      {{ t('dossiers.sentence') }}
      <input
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
        v-model="words.name"
        class="field"
        :aria-label="t('dossiers.nameWord')"
        :aria-invalid="fault('name')"
        :placeholder="t('dossiers.nameWord')"
        size="18"
        required
      />
      {{ t('dossiers.of') }}
      <span role="radiogroup" @keydown="onArrows" :class="words.kind === 'client' ? 'with-comma' : 'with-stop'">
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
            :placeholder="t('dossiers.clientWord')"
            size="16"
          />
        </span>
      </template>
    </div>
    <div class="plus-row">
      <button v-if="!withSubject" type="button" class="plus" @click="withSubject = true">{{ t('dossiers.subjectWord') }}</button>
      <input v-else v-model="words.subject" class="field small" :aria-label="t('dossiers.subjectWord')" size="40" />
    </div>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="submit" class="btn btn-primary" :disabled="busy">{{ t('dossiers.do') }}</button>
      <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
      <span class="small quiet">{{ t('dossiers.consequence') }}</span>
    </div>
  </form>
</template>

<style scoped>
.written {
  margin-top: var(--tb-s3);
}
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
