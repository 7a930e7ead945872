<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '../api/client'
import { extensionOf, stemOf } from '../i18n/words'

/** A document's first page, or a small sheet of paper that bears its title. */
const props = defineProps<{ file: Schemas['LinkFile']; pages: string }>()
const failed = ref(false)
const drawn = computed(() => !failed.value && ['pdf', 'picture', 'pages'].includes(props.file.look))
const lines = computed(() => {
  const all: string[] = []
  for (const word of stemOf(props.file.name).split(' ')) {
    if (all.length && `${all.at(-1)} ${word}`.length <= 15) all[all.length - 1] += ` ${word}`
    else all.push(word.slice(0, 17))
  }
  return all.slice(0, 4)
})
</script>

<template>
  <img v-if="drawn" class="paper" :src="`${pages}/1?width=240`" alt="" loading="lazy" @error="failed = true" />
  <svg v-else class="paper" viewBox="0 0 90 122" aria-hidden="true" style="background: #fff">
    <path d="M10 14h22M10 19h14" stroke="#51656a" />
    <text
      v-for="(l, i) in lines"
      :key="i"
      x="10"
      :y="38 + i * 11"
      font-family="'Literata Variable',serif"
      font-size="8.500"
      font-weight="600"
      fill="#14262a"
    >
      {{ l }}
    </text>
    <path v-if="file.look === 'table'" d="M10 84h70M10 91h70M10 98h70M10 105h70M34 80v29M58 80v29" stroke="#b3c0be" stroke-width=".8" />
    <path v-else-if="file.look === 'picture'" d="M10 80h70v30H10zM10 104l18-14 14 10 12-8 26 16" fill="none" stroke="#b3c0be" />
    <path v-else-if="file.look === 'sound' || file.look === 'video'" d="M38 84v20l18-10z" fill="#b3c0be" />
    <path v-else d="M10 92h62M10 97h66M10 102h50M10 107h58" stroke="#b3c0be" stroke-width=".8" />
    <text x="80" y="20" text-anchor="end" font-size="7" fill="#51656a">{{ extensionOf(file.name) }}</text>
  </svg>
</template>
