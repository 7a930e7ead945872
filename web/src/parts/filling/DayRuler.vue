<script setup lang="ts">
import { computed } from 'vue'
import { onArrows, tabStop } from '../arrows'
import { dayWords, type FillWord } from './word'

/** A day, taken from a ruler of three weeks; any other one is typed. */
const props = defineProps<{
  id: string
  day: string
  first?: string
  last?: string
  language: string
  label: string
  word: FillWord
  described?: string
}>()
const emit = defineEmits<{ set: [day: string] }>()
const weeks = 21
const days = computed(() => {
  const today = new Date().toISOString().slice(0, 10)
  const from = Date.parse(
    `${props.first && props.first > today && Date.parse(props.first) - Date.parse(today) > 10 * 864e5 ? props.first : today}T12:00:00Z`,
  )
  return Array.from({ length: weeks }, (_, i) => {
    const d = new Date(from + i * 864e5)
    const iso = d.toISOString().slice(0, 10)
    return {
      iso,
      n: d.getUTCDate(),
      off: [0, 6].includes(d.getUTCDay()),
      shut: (!!props.first && iso < props.first) || (!!props.last && iso > props.last),
      month: i === 0 || d.getUTCDate() === 1 ? d.toLocaleDateString(props.language, { month: 'long', timeZone: 'UTC' }) : '',
    }
  })
})
const free = computed(() => days.value.filter((d) => !d.shut))
const onRuler = computed(() => free.value.some((d) => d.iso === props.day))
</script>

<template>
  <div class="which-day">
    <div role="radiogroup" class="day-row" :aria-label="label" :aria-describedby="described" @keydown="onArrows">
      <span v-for="d in days" :key="d.iso" class="one-day" :class="{ off: d.off }">
        <span class="its-month" aria-hidden="true">{{ d.month }}</span>
        <button
          type="button"
          role="radio"
          :aria-checked="d.iso === day"
          :aria-label="dayWords(d.iso, language)"
          :disabled="d.shut"
          :tabindex="tabStop(d.iso === day, !onRuler, d.iso === free[0]?.iso)"
          @click="emit('set', d.iso)"
        >
          {{ d.n }}
        </button>
      </span>
    </div>
    <label class="other small">
      <span class="quiet">{{ word('anotherDay') }}</span>
      <input
        :id="id"
        type="date"
        class="form-control"
        :value="day"
        :min="first"
        :max="last"
        @change="emit('set', ($event.target as HTMLInputElement).value)"
      />
    </label>
  </div>
</template>

<style scoped>
.which-day {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 8px 20px;
}
.day-row {
  display: grid;
  grid-template-columns: repeat(21, minmax(24px, 28px));
  padding: 4px 8px 6px;
  border: 1px solid var(--tb-edge);
  border-radius: 3px;
  background: var(--tb-sheet);
}
.one-day {
  display: grid;
  grid-template-rows: 16px 32px;
}
.its-month {
  font-size: var(--tb-small);
  line-height: 16px;
  white-space: nowrap;
  width: 0;
  overflow: visible;
}
.one-day button {
  border: 1px solid transparent;
  border-top-color: var(--tb-edge);
  font-variant-numeric: tabular-nums;
  min-height: 28px;
}
.one-day.off button {
  border-top-style: dashed;
  color: var(--tb-quiet);
}
.one-day button:disabled {
  color: var(--tb-quiet);
  text-decoration: line-through;
}
.one-day button[aria-checked='true'] {
  border: 2px solid var(--tb-action);
  border-radius: 3px;
  background: var(--tb-sheet);
  font-weight: 650;
}
.other {
  display: flex;
  align-items: center;
  gap: 8px;
  padding-bottom: 8px;
}
.other .form-control {
  width: auto;
}
@media (max-width: 1100px) {
  .day-row {
    grid-template-columns: repeat(7, minmax(32px, 1fr));
    width: 100%;
    max-width: 420px;
  }
  .one-day {
    grid-template-rows: 14px 40px;
  }
  .one-day button {
    min-height: 40px;
  }
}
</style>
