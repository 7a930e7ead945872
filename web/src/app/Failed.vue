<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useSaid } from '../sentences/said'

/** What happened, and the way to go on. */
defineProps<{ error: unknown }>()
defineEmits<{ again: [] }>()
const { t } = useI18n()
const said = useSaid()
</script>

<template>
  <div class="failed" role="alert">
    <h2>{{ t('problem.title') }}</h2>
    <p>{{ said.problem(error) }}</p>
    <button type="button" class="btn btn-plain" @click="$emit('again')">{{ t('common.again') }}</button>
  </div>
</template>
