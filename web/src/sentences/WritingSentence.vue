<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useElementSize } from '@vueuse/core'
import type { Schemas } from '../api/client'

/**
 * A sentence whose words are its controls. The opened word and its control are one outline inside the text: the
 * control stands below the line that holds the word.
 */
type Term = NonNullable<Schemas['Part']['term']>
const props = defineProps<{ sentence: Schemas['Part'][]; controls: Term[]; open?: Term; refused?: string }>()
const emit = defineEmits<{ toggle: [term: Term] }>()

interface Token {
  text: string
  term?: Term
  control: boolean
}
const tokens = computed<Token[]>(() =>
  props.sentence.flatMap((p): Token[] => {
    if (p.term && props.controls.includes(p.term)) return [{ text: p.text, term: p.term, control: true }]
    return (p.text.match(/\s*\S+\s*|\s+/g) ?? []).map((text) => ({ text, term: p.term, control: false }))
  }),
)

const host = ref<HTMLElement>()
const { width } = useElementSize(host)
const glossAfter = ref(-1)
watch(
  [tokens, () => props.open, width],
  async () => {
    glossAfter.value = -1
    if (!props.open) return
    await nextTick()
    const words = [...(host.value?.querySelectorAll<HTMLElement>('[data-token]') ?? [])]
    const opened = words.findIndex((w) => w.dataset.term === props.open)
    if (opened < 0) return
    const line = words[opened].offsetTop
    let last = opened
    while (words[last + 1] && Math.abs(words[last + 1].offsetTop - line) < 12) last++
    glossAfter.value = last
  },
  { immediate: true },
)
</script>

<template>
  <div ref="host" class="terms writing">
    <template v-for="(token, i) in tokens" :key="i">
      <button
        v-if="token.control"
        type="button"
        class="w"
        :class="{ refused: refused === token.term }"
        data-token
        :data-term="token.term"
        :aria-expanded="open === token.term"
        @click="emit('toggle', token.term!)"
      >
        {{ token.text }}
      </button>
      <span v-else data-token :class="{ set: token.term }" :data-term="token.term" style="white-space: pre-wrap">{{ token.text }}</span>
      <div v-if="i === glossAfter" class="gloss"><slot></slot></div>
    </template>
  </div>
</template>

<style scoped>
.set {
  font-weight: 560;
}
.w.refused {
  color: var(--tb-caution-text);
  text-decoration: underline wavy;
}
.w[aria-expanded='true'] {
  margin: 0 -2px 0 2px;
}
</style>
