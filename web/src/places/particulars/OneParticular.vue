<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import type { Particular } from '../../queries/particulars'
import { useValueWords } from './value'
import ValueField from './ValueField.vue'

/** One particular of a document, or of several: what stands there is a word that is written anew where it stands. */
const props = defineProps<{
  particular: Particular
  documents: string[]
  mayChange: boolean
  value?: string
  person?: string
  /** Said in place of one value where there are several. */
  several?: string
}>()
const { t } = useI18n()
const { act, busy, wrong } = useAct()
const { words } = useValueWords()
const writing = ref(false)
const written = ref('')
const form = ref<HTMLFormElement>()
const shown = computed(() => (props.value ? words(props.particular, props.value, props.person) : ''))
const missing = computed(() => !props.value && !props.several && props.particular.required)

async function begin() {
  written.value = props.value ?? ''
  wrong.value = ''
  writing.value = true
  await nextTick()
  form.value?.querySelector<HTMLElement>('input, select')?.focus()
}
const put = (value?: string) =>
  api.POST('/particulars/values', { body: { documents: props.documents, values: [{ particular: props.particular.id, value }] } })

async function keep() {
  const [before, name, single] = [props.value, props.particular.name, !props.several]
  const done = await act(() => put(written.value.trim() || undefined), {
    done: t(written.value.trim() ? 'particulars.set' : 'particulars.cleared', { name, n: props.documents.length }, props.documents.length),
    undo: single ? { do: () => put(before), done: t('particulars.setBack', { name }) } : undefined,
  })
  if (done) writing.value = false
}
/** What stands in it, as it is shown where it can be changed. */
const stands = computed(() => shown.value || props.several || t(missing.value ? 'particulars.missing' : 'particulars.nothing'))
</script>

<template>
  <div class="one">
    <dt :class="{ lacking: missing }">{{ particular.name }}</dt>
    <dd>
      <form v-if="writing" ref="form" class="acts" @submit.prevent="keep" @keydown.esc.stop="writing = false">
        <ValueField v-model="written" :particular="particular" />
        <button type="submit" class="btn btn-plain btn-small" :disabled="busy">{{ t('particulars.keep') }}</button>
        <button type="button" class="btn btn-text btn-small" @click="writing = false">{{ t('common.discard') }}</button>
        <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
      </form>
      <button
        v-else-if="mayChange"
        type="button"
        class="w"
        :class="{ empty: !shown && !several }"
        :aria-label="`${particular.name}: ${stands}`"
        @click="begin"
      >
        {{ stands }}
      </button>
      <span v-else>{{ shown || several || t('particulars.nothing') }}</span>
      <slot />
    </dd>
  </div>
</template>

<style scoped>
.one {
  display: grid;
  grid-template-columns: minmax(90px, 2fr) 3fr;
  gap: var(--tb-s2);
  align-items: baseline;
  min-height: 26px;
}
dt {
  font-weight: 400;
  color: var(--tb-quiet);
  overflow-wrap: anywhere;
}
.lacking {
  color: var(--tb-caution);
}
dd {
  margin: 0;
  min-width: 0;
  overflow-wrap: anywhere;
}
.w {
  text-align: left;
}
.empty {
  font-weight: 400;
  color: var(--tb-quiet);
}
.acts {
  flex-wrap: wrap;
}
.acts :deep(.form-control),
.acts :deep(.form-select) {
  flex: 1 1 130px;
  min-width: 0;
}
</style>
