<script setup lang="ts">
import { computed } from 'vue'
import { stemOf } from '../i18n/words'

/** A name that gives way in its middle and keeps its end: a date, a part. Whole on hover. */
const props = defineProps<{ name: string; whole?: boolean }>()
const stem = computed(() => (props.whole ? props.name : stemOf(props.name)))
const tail = computed(() => {
  const s = stem.value
  if (s.length < 28) return ''
  const from = s.indexOf(' ', s.length - 16)
  return s.slice(from > 0 ? from : s.length - 10)
})
</script>

<template>
  <span v-if="tail" class="name long" :title="name">
    <span>{{ stem.slice(0, stem.length - tail.length) }}</span>
    <span>{{ tail }}</span>
  </span>
  <span v-else class="name" :title="name">{{ stem }}</span>
</template>
