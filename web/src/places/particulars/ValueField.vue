<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { isNumber, type Particular } from '../../queries/particulars'
import { useDirectory } from '../../queries/people'

/** What is written into a particular: a day, a choice, somebody, or text. */
const props = defineProps<{ particular: Particular; id?: string }>()
const written = defineModel<string>({ required: true })
const { t } = useI18n()
const { data: directory } = useDirectory(() => props.particular.kind === 'person')
const people = computed(() => (directory.value?.accounts ?? []).filter((a) => a.standing !== 'guest' && !a.ended).map((a) => a.person))
</script>

<template>
  <select v-if="particular.kind === 'choice'" :id="id" v-model="written" class="form-select" :aria-label="particular.name">
    <option value="">{{ t('particulars.nothing') }}</option>
    <option v-for="c in particular.choices" :key="c" :value="c">{{ c }}</option>
  </select>
  <select v-else-if="particular.kind === 'person'" :id="id" v-model="written" class="form-select" :aria-label="particular.name">
    <option value="">{{ t('particulars.nothing') }}</option>
    <option v-for="p in people" :key="p.id" :value="p.id">{{ p.name }}</option>
  </select>
  <input
    v-else
    :id="id"
    v-model="written"
    class="form-control"
    :type="particular.kind === 'date' ? 'date' : 'text'"
    :inputmode="isNumber(particular) ? 'decimal' : undefined"
    :aria-label="particular.unit ? `${particular.name}, ${particular.unit}` : particular.name"
    :placeholder="particular.unit"
    maxlength="500"
    autocomplete="off"
  />
</template>
