<script setup lang="ts">
import { onMounted, ref, useId } from 'vue'
import { useFocusReturn } from './focus'

/** An act that is said before it is done: what it is and means comes in by the slot; beside it are the act and the way back. */
defineProps<{ act: string; discard: string; wrong?: string; busy?: boolean; unready?: boolean }>()
defineEmits<{ do: []; discard: [] }>()
const id = useId()
const main = ref<HTMLButtonElement>()
useFocusReturn()
onMounted(() => main.value?.focus({ preventScroll: true }))
</script>

<template>
  <form class="confirm" @submit.prevent="$emit('do')" @keydown.esc.stop="$emit('discard')">
    <div :id="id">
      <slot />
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    </div>
    <div class="acts">
      <button ref="main" type="submit" class="btn btn-primary btn-small" :aria-describedby="id" :disabled="busy || unready">
        {{ act }}
      </button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('discard')">{{ discard }}</button>
    </div>
  </form>
</template>

<style scoped>
.confirm {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: flex-end;
  gap: var(--tb-s2) var(--tb-s5);
  background: var(--tb-sheet);
  border: 1px solid var(--tb-action);
  border-radius: 3px;
  padding: 10px 12px;
  white-space: normal;
}
.confirm > div:first-child {
  flex: 1 1 200px;
  min-width: 0;
}
</style>
