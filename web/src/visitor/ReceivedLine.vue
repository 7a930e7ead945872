<script setup lang="ts">
import { ref } from 'vue'
import { api, data, Refusal, type Schemas } from '../api/client'
import { sizeWords } from '../i18n/words'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** One file that a visitor brought, which they can take back until they are done. */
const props = defineProps<{ file: Schemas['ReceivedFile']; named?: boolean }>()
const emit = defineEmits<{ changed: [intake: Schemas['VisitIntake']] }>()
const { token, failed } = useThisVisit()
const busy = ref(false)
const refused = ref('')

async function takeBack() {
  busy.value = true
  refused.value = ''
  try {
    const path = { token, id: props.file.id }
    emit('changed', await data(api.DELETE('/visits/{token}/intake/{id}', { params: { path } })))
  } catch (e) {
    const code = e instanceof Refusal ? e.code : ''
    if (code === 'taken-up' || code === 'handed-in') refused.value = say(code === 'taken-up' ? 'takenUp' : 'handedIn')
    else failed(e)
  }
  busy.value = false
}
</script>

<template>
  <p class="small quiet" :data-received="file.name">
    {{ named ? sizeWords(file.size, language) : `${file.name}, ${sizeWords(file.size, language)}` }}
    <button
      v-if="!file.handedIn"
      type="button"
      class="back"
      :disabled="busy"
      :aria-label="`${say('takeBack')}: ${file.name}`"
      @click="takeBack"
    >
      {{ say('takeBack') }}
    </button>
    <span v-if="refused" class="wrong" role="alert">{{ refused }}</span>
  </p>
</template>

<style scoped>
.back {
  background: none;
  border: 0;
  color: var(--tb-action);
  min-height: 24px;
  padding: 0 var(--tb-s2);
}
</style>
