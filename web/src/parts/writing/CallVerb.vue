<script setup lang="ts">
import type { Call } from './call'
import { useVoice } from './voice'

/** Begins a call, where there is none yet and one may. */
defineProps<{ call: Call }>()
const { t } = useVoice()
</script>

<template>
  <button
    v-if="call.can.value && !call.inIt.value && !call.others.value.length"
    type="button"
    class="btn btn-text btn-small"
    @click="call.join()"
  >
    {{ t('writing.call.verb') }}
  </button>
</template>
