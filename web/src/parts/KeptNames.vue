<script setup lang="ts">
import { nextTick, ref } from 'vue'
import IconX from '~icons/ph/x'

/** What one keeps under names: chosen, kept and forgotten by one act each. Words come in by the owner. */
defineProps<{
  kept: { id: string; name: string }[]
  /** The one that is there now. */
  current?: string
  /** There is something to keep. */
  may: boolean
  busy: boolean
  wrong?: string
  words: { list: string; keepThis: string; name: string; keep: string; discard: string; forget: (name: string) => string }
}>()
const emit = defineEmits<{ choose: [id: string]; forget: [id: string]; keep: [name: string] }>()
const naming = ref(false)
const name = ref('')
const field = ref<HTMLInputElement>()

async function ask(proposed = '') {
  naming.value = true
  name.value = proposed
  await nextTick()
  field.value?.select()
}
defineExpose({ ask, done: () => (naming.value = false) })
</script>

<template>
  <div class="kept small">
    <ul v-if="kept.length" :aria-label="words.list">
      <li v-for="f in kept" :key="f.id">
        <button type="button" class="go" :aria-pressed="f.id === current" @click="emit('choose', f.id)">{{ f.name }}</button>
        <button
          v-if="f.id === current"
          type="button"
          class="forget"
          :aria-label="words.forget(f.name)"
          :disabled="busy"
          @click="emit('forget', f.id)"
        >
          <IconX class="i i-s" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <form v-if="naming" class="acts" @submit.prevent="emit('keep', name)" @keydown.esc.stop="naming = false">
      <input ref="field" v-model="name" class="form-control" maxlength="60" :aria-label="words.name" :placeholder="words.name" required />
      <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ words.keep }}</button>
      <button type="button" class="btn btn-text btn-small" @click="naming = false">{{ words.discard }}</button>
    </form>
    <slot v-else-if="may && !current" name="keep">
      <button type="button" class="go" @click="ask()">{{ words.keepThis }}</button>
    </slot>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.kept {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--tb-s1) var(--tb-s4);
}
.kept ul {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s1) var(--tb-s4);
}
.kept li {
  display: flex;
  align-items: center;
  gap: var(--tb-s1);
}
[aria-pressed='true'] {
  font-weight: 560;
  color: var(--tb-ink);
}
.forget {
  display: grid;
  place-items: center;
  min-width: 24px;
  min-height: 24px;
  color: var(--tb-quiet);
}
.form-control {
  max-width: 220px;
}
</style>
