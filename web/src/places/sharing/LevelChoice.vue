<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { capabilities, levels } from './words'

/** What may be done: a named level, or capabilities put together. */
const props = defineProps<{ level: (typeof levels)[number]; may: string[]; folder: boolean; manager: boolean }>()
const emit = defineEmits<{ set: [level: (typeof levels)[number], may: string[]] }>()
const { t } = useI18n()
const offered = levels.filter((l) => (l !== 'manage' || props.manager) && (l !== 'deposit' || props.folder))
function cap(c: string, on: boolean) {
  const may = on ? [...props.may, c] : props.may.filter((m) => m !== c)
  // Deleting what others added includes one's own; everything but adding needs to see.
  if (on && c === 'delete' && !may.includes('deleteOwn')) may.push('deleteOwn')
  if (on && c !== 'add' && !may.includes('see')) may.push('see')
  emit('set', 'custom', may)
}
</script>

<template>
  <div role="radiogroup" :aria-label="t('access.mayLabel')" class="levels">
    <button
      v-for="l in offered"
      :key="l"
      type="button"
      role="radio"
      :aria-checked="level === l"
      :data-level="l"
      @click="emit('set', l, l === 'custom' && !may.length ? ['see'] : may)"
    >
      <b>{{ t(`level.${l}`) }}</b>
      {{ ' ' }}
      <span class="quiet">{{ t(`levelWhy.${l}`) }}</span>
    </button>
    <div v-if="level === 'custom'" class="caps">
      <label v-for="c in capabilities" :key="c">
        <input
          type="checkbox"
          class="form-check-input"
          :checked="may.includes(c)"
          @change="cap(c, ($event.target as HTMLInputElement).checked)"
        />
        {{ t(`capability.${c}`) }}
      </label>
    </div>
  </div>
</template>

<style scoped>
.levels {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 2px 12px;
  font-size: 0.875rem;
}
.levels button {
  text-align: left;
  padding: 3px 8px;
  border: 1px solid transparent;
  border-radius: 3px;
}
.levels [aria-checked='true'] {
  border-color: var(--tb-action);
  background: var(--tb-sheet);
}
.levels b {
  font-weight: 600;
  color: var(--tb-action);
}
.caps {
  grid-column: 1 / -1;
  display: flex;
  flex-wrap: wrap;
  gap: 4px 18px;
  padding: 6px 8px;
}
.caps label {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
@media (max-width: 900px) {
  .levels {
    grid-template-columns: 1fr;
  }
}
</style>
