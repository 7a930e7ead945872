<script setup lang="ts">
import { ref, useId, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { readTerms } from '../queries/terms'
import { useSaid } from './said'

/** A moment, typed as one says it: "4 Dec 18:00", "in 3 weeks", "Freitag". begins is one from which on something is good. */
const props = defineProps<{ label: string; at?: string; begins?: boolean }>()
const emit = defineEmits<{ set: [at: string] }>()
const { t, locale } = useI18n()
const said = useSaid()
const id = useId()
const typed = ref('')
const wrong = ref('')

/** As the sentence says it, so that it can be read again. */
const spoken = (at?: string) => (at ? said.exact(at) : '')
watch(
  () => [props.at, locale.value],
  () => (typed.value = spoken(props.at)),
  { immediate: true },
)
async function read() {
  wrong.value = ''
  const asked = typed.value.trim()
  if (!asked || asked === spoken(props.at)) {
    typed.value = spoken(props.at)
    return
  }
  const meant = await readTerms(props.begins ? `from ${asked}` : asked, locale.value as 'en' | 'de').catch(() => undefined)
  const at = props.begins ? meant?.notBefore : meant?.until
  if (meant?.understood && at) emit('set', at)
  else wrong.value = t(meant?.pieces.some((p) => p.why === 'past') ? 'terms.why.past' : 'terms.noMoment', { word: asked })
}
</script>

<template>
  <span class="acts">
    <label :for="id" class="quiet">{{ label }}</label>
    <input
      :id="id"
      v-model="typed"
      class="form-control"
      data-field="moment"
      autocomplete="off"
      spellcheck="false"
      :aria-describedby="`${id}-said`"
      :aria-invalid="!!wrong"
      @change="read"
      @keydown.enter.prevent="read"
      @focus="($event.target as HTMLInputElement).select()"
    />
    <span :id="`${id}-said`" class="t-caution small" role="status">{{ wrong }}</span>
  </span>
</template>

<style scoped>
.form-control {
  width: 180px;
  height: 28px;
  font-size: var(--tb-text);
  background: var(--tb-sheet);
}
</style>
