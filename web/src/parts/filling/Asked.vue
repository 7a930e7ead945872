<script setup lang="ts">
import { computed } from 'vue'
import { onArrows, tabStop } from '../arrows'
import DayRuler from './DayRuler.vue'
import type { Filler } from './filling'
import { dayWords, type Field, type FillWord } from './word'

/** One thing that is asked, and its answer. */
const props = defineProps<{ field: Field; filler: Filler; language: string; word: FillWord }>()
const id = computed(() => `asked-${props.field.id}`)
const value = computed(() => props.filler.answers[props.field.id] ?? '')
const open = computed(() => props.filler.problemOf(props.field.id))
/** What is wrong is said once the field was left; that something is missing only stands beside its name. */
const wrong = computed(() => {
  const o = open.value
  if (!o || o.reason === 'missing' || !props.filler.left.has(props.field.id)) return ''
  const bound = o.bound && props.field.kind === 'day' ? dayWords(o.bound, props.language) : (o.bound ?? '')
  return props.word(`reason.${o.reason}`, { bound })
})
const hint = computed(() => {
  const f = props.field
  const says = [f.hint]
  if (f.ahead && !f.hint) says.push(props.word('ahead', { n: f.ahead }))
  if (f.least && f.most) says.push(props.word('between', { least: f.least, most: f.most }))
  else if (f.least) says.push(props.word('from', { least: f.least }))
  else if (f.most) says.push(props.word('upTo', { most: f.most }))
  return says.filter(Boolean).join('; ')
})
const missing = computed(() => open.value?.reason === 'missing')
const few = computed(() => (props.field.choices ?? []).length <= 4 && (props.field.choices ?? []).join('').length <= 48)
const ruled = computed(() => props.field.kind === 'day' && (!!props.field.ahead || !!props.field.first))
const described = computed(() => (wrong.value ? `${id.value}-wrong` : undefined))
const put = (v: string, now = false) => props.filler.put(props.field.id, v, now)
const leave = () => props.filler.leave(props.field.id)
const typed = (e: Event) => (e.target as HTMLInputElement).value
</script>

<template>
  <div :id="`at-${id}`" class="asked" :class="[field.kind, { missing, wide: field.kind === 'text' || ruled || (field.choices && !few) }]">
    <p v-if="field.before" class="small before">{{ field.before }}</p>
    <label v-if="field.kind === 'tick'" class="tick">
      <input
        :id="id"
        type="checkbox"
        class="form-check-input"
        :checked="!!value"
        :required="field.must"
        :aria-describedby="described"
        @change="put(($event.target as HTMLInputElement).checked ? 'yes' : '', true)"
        @blur="leave"
      />
      <span>
        {{ field.label }}
        <span v-if="missing" class="quiet small">{{ word('toAnswer') }}</span>
        <span v-if="hint" class="quiet small">{{ hint }}</span>
      </span>
    </label>
    <template v-else>
      <component
        :is="ruled || field.choices ? 'p' : 'label'"
        :id="`${id}-label`"
        :for="ruled || field.choices ? undefined : id"
        class="name"
      >
        <b>{{ field.label }}</b>
        <span v-if="missing || hint || !field.must" class="quiet small">
          {{
            [missing ? word('toAnswer') : '', hint, !field.must && !hint ? word('optional') : '']
              .filter(Boolean)
              .join(missing && hint ? ': ' : '')
          }}
        </span>
      </component>
      <div
        v-if="field.choices && few"
        role="radiogroup"
        class="few"
        :aria-labelledby="`${id}-label`"
        :aria-describedby="described"
        @keydown="onArrows"
      >
        <button
          v-for="(c, i) in field.choices"
          :id="i ? undefined : id"
          :key="c"
          type="button"
          role="radio"
          :aria-checked="value === c"
          :tabindex="tabStop(value === c, !field.choices.includes(value), i === 0)"
          @click="put(c, true)"
          @blur="leave"
        >
          {{ c }}
        </button>
      </div>
      <select
        v-else-if="field.choices"
        :id="id"
        class="form-control one-of"
        :value="value"
        :aria-labelledby="`${id}-label`"
        :aria-describedby="described"
        @change="put(typed($event), true)"
        @blur="leave"
      >
        <option value="">{{ word('pick') }}</option>
        <option v-for="c in field.choices" :key="c" :value="c">{{ c }}</option>
      </select>
      <DayRuler
        v-else-if="ruled"
        :id="id"
        :day="value"
        :first="field.first"
        :last="field.last"
        :language="language"
        :label="field.label"
        :word="word"
        :described="described"
        @set="(put($event, true), leave())"
      />
      <input
        v-else-if="field.kind === 'day'"
        :id="id"
        type="date"
        class="form-control"
        :value="value"
        :max="field.last"
        :aria-describedby="described"
        :aria-invalid="!!wrong"
        @change="(put(typed($event), true), leave())"
      />
      <span v-else-if="field.kind === 'number'" class="measured">
        <input
          :id="id"
          class="form-control"
          inputmode="decimal"
          autocomplete="off"
          maxlength="60"
          :value="value"
          :aria-describedby="described"
          :aria-invalid="!!wrong"
          @input="put(typed($event))"
          @blur="leave"
        />
        <span v-if="field.after">{{ field.after }}</span>
      </span>
      <textarea
        v-else
        :id="id"
        class="form-control"
        rows="1"
        maxlength="4000"
        :value="value"
        :aria-describedby="described"
        :aria-invalid="!!wrong"
        @input="put(typed($event))"
        @blur="leave"
      ></textarea>
    </template>
    <p v-if="wrong" :id="`${id}-wrong`" class="wrong" role="alert">{{ wrong }}</p>
    <p v-if="field.after && field.kind !== 'number'" class="small quiet">{{ field.after }}</p>
  </div>
</template>

<style scoped>
.asked {
  min-width: 0;
}
.wide {
  grid-column: 1 / -1;
}
.before {
  margin: 0 0 4px;
}
.name {
  display: block;
  margin: 0 0 4px;
  font-size: var(--tb-text);
}
.name b {
  font-weight: 600;
  margin-right: 6px;
}
textarea {
  field-sizing: content;
  max-height: 320px;
  resize: none;
}
.measured {
  display: flex;
  align-items: center;
  gap: 8px;
}
.measured .form-control {
  max-width: 180px;
  font-variant-numeric: tabular-nums;
}
.few {
  display: flex;
  flex-wrap: wrap;
  border: 1px solid var(--tb-edge);
  border-radius: 3px;
  background: var(--tb-sheet);
  width: fit-content;
  max-width: 100%;
}
.few button {
  flex: 1 1 auto;
  min-height: 32px;
  min-width: 80px;
  padding: 0 14px;
  border-left: 1px solid var(--tb-edge);
}
.few button:first-child {
  border-left: 0;
}
.few [aria-checked='true'] {
  background: var(--tb-selection);
  box-shadow: inset 0 0 0 2px var(--tb-action);
  font-weight: 600;
}
.one-of {
  width: auto;
  min-width: 180px;
  max-width: 100%;
}
/* What is still to be answered has a thick edge: told without colour. */
.missing .form-control,
.missing .few,
.missing :deep(.day-row) {
  border-left: 4px solid var(--tb-ink);
}
.missing :deep(.other .form-control) {
  border-left-width: 1px;
}
.tick {
  display: flex;
  gap: 10px;
  align-items: baseline;
}
.tick .form-check-input {
  width: 20px;
  height: 20px;
  flex: none;
  transform: translateY(4px);
}
.missing .tick .form-check-input {
  border: 2px solid var(--tb-ink);
}
@media (max-width: 800px) {
  .few {
    width: 100%;
  }
  .few button {
    min-height: 44px;
  }
}
</style>
