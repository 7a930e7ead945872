<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed, onMounted, ref, useId, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { readTerms } from '../../queries/terms'

/**
 * Terms, typed in one's own words. What is understood is told while one types; what is not is marked at the word. Enter gives
 * what was understood of all of it, and nothing where a word means nothing.
 */
const props = defineProps<{ label: string; hint: string; autofocus?: boolean; take: (r: Schemas['TypedTerms']) => Promise<unknown> }>()
const emit = defineEmits<{ enter: [] }>()
const text = defineModel<string>({ required: true })
const { t, locale } = useI18n()
const id = useId()
const field = ref<HTMLInputElement>()
const mirror = ref<HTMLElement>()
const read = ref<Schemas['TypedTerms']>()
const odd = computed(() => read.value?.pieces.filter((p) => p.why) ?? [])
const said = computed(() => odd.value.map((p) => t(`terms.why.${p.why!}`, { word: p.text })).join(' '))

async function understand(): Promise<boolean> {
  const asked = text.value
  try {
    const now = await readTerms(asked, locale.value as 'en' | 'de')
    if (asked !== text.value) return false
    read.value = now
    await props.take(now)
    return now.understood && asked === text.value
  } catch {
    // What is written stands in the sentence above, and stays as it is.
    return false
  }
}
const soon = useDebounceFn(understand, 140)
watch(text, () => {
  if (text.value.trim()) void soon()
  else void understand()
})
async function enter() {
  if (!text.value.trim() || (await understand())) emit('enter')
}
/** Goes on with the word that is begun. */
function complete(word: string) {
  text.value = text.value.replace(/[^\s,;]*$/, word)
  field.value?.focus()
}
function right(e: KeyboardEvent) {
  const word = read.value?.completions[0]
  if (!word || field.value?.selectionStart !== text.value.length) return
  e.preventDefault()
  complete(word)
}
const scroll = () => mirror.value && field.value && (mirror.value.scrollLeft = field.value.scrollLeft)
onMounted(() => props.autofocus && field.value?.focus())
</script>

<template>
  <div class="typed">
    <label :for="id" class="small quiet">{{ label }}</label>
    <div class="holder">
      <div ref="mirror" class="form-control mirror" aria-hidden="true">
        <span v-for="(p, i) in read?.pieces" :key="i" :class="{ odd: p.why }">{{ p.text }}</span>
      </div>
      <input
        :id="id"
        ref="field"
        v-model="text"
        class="form-control"
        data-field="typed"
        :placeholder="hint"
        :aria-describedby="`${id}-said`"
        autocomplete="off"
        spellcheck="false"
        maxlength="500"
        @keydown.enter.prevent="enter"
        @keydown.right="right"
        @scroll="scroll"
        @input="scroll"
      />
    </div>
    <p :id="`${id}-said`" class="small said" role="status">
      <span v-if="read?.completions.length" class="acts">
        <button v-for="w in read.completions" :key="w" type="button" class="go" @click="complete(w)">{{ w }}</button>
      </span>
      <span v-else-if="said" class="t-caution">{{ said }}</span>
    </p>
  </div>
</template>

<style scoped>
.typed {
  display: grid;
  grid-template-columns: auto minmax(0, 1fr);
  gap: 0 var(--tb-s2);
  align-items: center;
  margin: var(--tb-s3) 0 var(--tb-s1);
}
.holder {
  position: relative;
}
.mirror {
  position: absolute;
  inset: 0;
  white-space: pre;
  overflow: hidden;
  color: transparent;
  border-color: transparent;
  background: none;
  pointer-events: none;
}
.odd {
  text-decoration: underline wavy var(--tb-caution-text);
  text-underline-offset: 3px;
}
.said {
  grid-column: 2;
  min-height: 1.5em;
  margin: 0;
}
@media (max-width: 600px) {
  .typed {
    grid-template-columns: minmax(0, 1fr);
  }
  .said {
    grid-column: 1;
  }
}
</style>
