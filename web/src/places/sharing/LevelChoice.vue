<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import Choices from '../../parts/Choices.vue'
import { capabilities, levels } from './words'

/** What may be done: a named level, or capabilities put together. */
const props = defineProps<{ level: (typeof levels)[number]; may: string[]; folder: boolean; manager: boolean }>()
const emit = defineEmits<{ set: [level: (typeof levels)[number], may: string[]] }>()
const { t } = useI18n()
const offered = levels.filter((l) => (l !== 'manage' || props.manager) && (l !== 'deposit' || props.folder))
const options = computed(() => offered.map((l) => ({ value: l, words: t(`level.${l}`), why: t(`levelWhy.${l}`) })))
const choose = (l: (typeof levels)[number]) => emit('set', l, l === 'own-set' && !props.may.length ? ['see'] : props.may)
function cap(c: string, on: boolean) {
  const may = on ? [...props.may, c] : props.may.filter((m) => m !== c)
  // Deleting what others added includes one's own; everything but adding needs to see.
  if (on && c === 'delete' && !may.includes('deleteOwn')) may.push('deleteOwn')
  if (on && c !== 'add' && !may.includes('see')) may.push('see')
  emit('set', 'own-set', may)
}
</script>

<template>
  <Choices class="levels" :label="t('access.mayLabel')" :options="options" :chosen="level" @choose="choose">
    <div v-if="level === 'own-set'" class="caps">
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
  </Choices>
</template>

<style scoped>
.levels {
  grid-template-columns: 1fr 1fr;
  font-size: var(--tb-text);
}
.levels.choices {
  gap: 2px 12px;
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
