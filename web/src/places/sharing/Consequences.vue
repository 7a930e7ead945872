<script setup lang="ts">
import { useWhatIf } from '../../queries/sharing'
import { useI18n } from 'vue-i18n'
import { type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useAccessWords } from './words'

/** What a change would mean, before it is confirmed. */
const props = defineProps<{ what: Schemas['WhatIf'] }>()
const { t } = useI18n()
const said = useSaid()
const words = useAccessWords()
const { data: c, error } = useWhatIf(() => props.what)
</script>

<template>
  <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
  <p v-else-if="c" class="small" aria-live="polite">{{ words.consequences(c, !!what.delete).join(' ') }}</p>
  <p v-else class="small quiet">{{ t('common.loading') }}</p>
</template>
