<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useRunActs } from './acts'
import { useDecisionWords } from './words'

/** What somebody who is asked can do beside the document: agree at once, or go to where a reason is given. */
defineProps<{ run: Schemas['RunLine'] }>()
const { t } = useI18n()
const words = useDecisionWords()
const { decide, busy, wrong } = useRunActs()
</script>

<template>
  <div class="acts">
    <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
    <button type="button" class="btn btn-primary btn-small" :disabled="busy" @click="decide(run, 'agrees')">
      {{ t(`decisions.agree.${words.doing(run)}`, { n: run.version }) }}
    </button>
    <RouterLink class="btn btn-plain btn-small" :to="`/decisions/${run.id}`">{{ t('decisions.returnIt') }}</RouterLink>
  </div>
</template>
