<script setup lang="ts">
import { shallowRef, watch } from 'vue'
import HelpPanel from '../help/HelpPanel.vue'
import type { HelpTopic } from '../help/topics'
import { language, say } from './words'

/** Help for visitors; whoever sent the link helps further. */
defineProps<{ sender: string }>()
defineEmits<{ close: [] }>()
const topics = shallowRef<HelpTopic[]>([])
watch(
  language,
  async () => {
    topics.value = (await (language.value === 'de' ? import('../help/visitor-de') : import('../help/visitor-en'))).default
  },
  { immediate: true },
)
</script>

<template>
  <HelpPanel
    v-if="topics.length"
    :topics="topics"
    :helper="say('helpFrom', { sender })"
    :words="{
      title: say('help'),
      find: say('helpFind'),
      none: say('helpNone'),
      close: say('close'),
      keys: say('helpKeys'),
      key: say('helpKey'),
    }"
    @close="$emit('close')"
  />
</template>
