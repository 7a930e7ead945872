<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import IconDown from '~icons/ph/caret-down'
import IconUp from '~icons/ph/caret-up'
import IconPages from '~icons/ph/list-numbers'
import IconPrint from '~icons/ph/printer'
import IconTurn from '~icons/ph/arrow-clockwise'
import { isCommand, isTyping } from '../keys'
import type { LookWord } from './word'

/** What a document can be read with: its pages as a list, a page by its number, size, finding, turning and printing. */
const props = defineProps<{
  word: LookWord
  /** Without pages there is nothing to go to. */
  pages?: number
  sizes?: { value: string; words: string }[]
  findable?: boolean
  turnable?: boolean
  printable?: boolean
  hits?: { at: number; of: number }
  busy?: string
}>()
const page = defineModel<number>('page', { default: 1 })
const size = defineModel<string>('size', { default: '' })
const listed = defineModel<boolean>('listed')
const sought = defineModel<string>('sought', { default: '' })
const emit = defineEmits<{ hit: [step: 1 | -1]; turn: []; print: [] }>()

const typed = ref('1')
watch(page, (n) => (typed.value = String(n)), { immediate: true })
function go() {
  const n = Number.parseInt(typed.value, 10)
  if (n >= 1 && n <= (props.pages ?? 0)) page.value = n
  typed.value = String(page.value)
}
const field = ref<HTMLInputElement>()
const found = computed(() => {
  if (!sought.value || !props.hits) return ''
  return props.hits.of ? props.word('hits', { n: props.hits.at, of: props.hits.of }) : props.word('noHits')
})
function bySize(step: 1 | -1) {
  const at = props.sizes?.findIndex((s) => s.value === size.value) ?? -1
  const to = props.sizes?.[at + step]
  if (to) size.value = to.value
}
useEventListener('keydown', (e) => {
  if (props.findable && (e.ctrlKey || e.metaKey) && e.key === 'f') field.value?.select()
  else if (isTyping(e) || isCommand(e)) return
  else if (props.findable && e.key === '/') field.value?.focus()
  else if (props.turnable && e.key === 'r') emit('turn')
  else if (e.key === '+') bySize(1)
  else if (e.key === '-') bySize(-1)
  else return
  e.preventDefault()
})
</script>

<template>
  <div class="reader-bar" role="toolbar">
    <template v-if="pages && pages > 1">
      <button v-if="listed !== undefined" type="button" :aria-pressed="listed" :aria-label="word('pages')" @click="listed = !listed">
        <IconPages aria-hidden="true" />
        <span class="only-wide">{{ word('pages') }}</span>
      </button>
      <form class="at" @submit.prevent="go">
        <input
          v-model="typed"
          inputmode="numeric"
          :aria-label="word('goTo')"
          @change="go"
          @focus="($event.target as HTMLInputElement).select()"
        />
        {{ word('of', { of: pages }) }}
      </form>
    </template>
    <select v-if="sizes" v-model="size" class="only-wide" :aria-label="word('size')">
      <option v-for="s in sizes" :key="s.value" :value="s.value">{{ s.words }}</option>
    </select>
    <button v-if="turnable" type="button" @click="$emit('turn')">
      <IconTurn aria-hidden="true" />
      {{ word('turn') }}
    </button>
    <button v-if="printable" type="button" class="only-wide" :disabled="!!busy" @click="$emit('print')">
      <IconPrint aria-hidden="true" />
      {{ word('print') }}
    </button>
    <span v-if="busy" class="quiet small" role="status">{{ busy }}</span>
    <slot />
    <form v-if="findable" class="find" role="search" @submit.prevent="$emit('hit', 1)">
      <input
        ref="field"
        v-model="sought"
        type="search"
        :placeholder="word('find')"
        :aria-label="word('find')"
        @keydown.enter.shift.prevent="$emit('hit', -1)"
        @keydown.esc.stop="sought = ''"
      />
      <span class="quiet small found" role="status">{{ found }}</span>
      <button type="button" :aria-label="word('previousHit')" :disabled="!hits?.of" @click="$emit('hit', -1)">
        <IconUp aria-hidden="true" />
      </button>
      <button type="button" :aria-label="word('nextHit')" :disabled="!hits?.of" @click="$emit('hit', 1)">
        <IconDown aria-hidden="true" />
      </button>
    </form>
  </div>
</template>

<style scoped>
.reader-bar {
  display: flex;
  align-items: center;
  gap: var(--tb-s3);
  padding: 4px 20px;
  min-height: 40px;
  background: var(--tb-page);
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
}
button {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 28px;
  min-width: 28px;
  justify-content: center;
  padding: 0 6px;
  border-radius: 3px;
}
button:hover:enabled,
button[aria-pressed='true'] {
  background: var(--tb-selection);
}
button:disabled {
  color: var(--tb-quiet);
}
.at,
.find {
  display: flex;
  align-items: center;
  gap: 6px;
}
.at {
  white-space: nowrap;
}
input,
select {
  font: inherit;
  color: inherit;
  background: var(--tb-sheet);
  border: 1px solid var(--tb-rule);
  border-radius: 3px;
  height: 28px;
  padding: 0 6px;
}
.at input {
  width: 46px;
  text-align: right;
}
.find {
  margin-left: auto;
  min-width: 0;
}
.find input {
  width: 220px;
  min-width: 60px;
}
.found {
  min-width: 70px;
  white-space: nowrap;
}
@media (max-width: 720px) {
  .reader-bar {
    padding: 4px 10px;
    gap: 6px;
  }
  .find input {
    width: 100%;
  }
  .found:empty {
    display: none;
  }
}
@media print {
  .reader-bar {
    display: none;
  }
}
</style>

<style lang="scss">
// Pages made for paper; everything else stays off it.
.print-paper {
  display: none;
}
@media print {
  body:has(> .print-paper) > :not(.print-paper) {
    display: none;
  }
  .print-paper {
    display: block;
    img {
      display: block;
      width: 100%;
      max-height: 100vh;
      object-fit: contain;
      break-after: page;
    }
  }
}
</style>
