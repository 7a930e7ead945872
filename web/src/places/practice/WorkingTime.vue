<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** When the practice works: hours of each day of the week, and days that are free, whole or half. */
type Calendar = Schemas['WorkingCalendar']
const props = defineProps<{ calendar: Calendar; may: boolean; set: (c: Calendar) => Promise<boolean> }>()
const { t, locale } = useI18n()
const said = useSaid()
/** From Monday on; the calendar begins with Sunday. */
const week = [1, 2, 3, 4, 5, 6, 0]
const dayName = (d: number) =>
  new Intl.DateTimeFormat(locale.value, { weekday: 'long', timeZone: 'UTC' }).format(new Date(Date.UTC(2026, 10, 22 + d)))
const clock = (m: number) => `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`
const minutes = (s: string) => {
  const [h, m] = s.split(':').map(Number)
  return (h ?? 0) * 60 + (m ?? 0)
}
const works = (d: number) => props.calendar.week[d]!.to > 0
function hours(d: number, change: Partial<{ from: number; to: number }>) {
  const all = props.calendar.week.map((h, i) => (i === d ? { ...h, ...change } : h))
  void props.set({ ...props.calendar, week: all })
}
const day = ref('')
const free = ref<'whole' | 'half'>('whole')
const name = ref('')
async function add() {
  const days = [...props.calendar.days, { day: day.value, free: free.value, name: name.value }]
  if (await props.set({ ...props.calendar, days })) day.value = name.value = ''
}
const leave = (d: string) => props.set({ ...props.calendar, days: props.calendar.days.filter((x) => x.day !== d) })
const coming = computed(() => props.calendar.days.filter((d) => d.day >= new Date(said.now.value).toISOString().slice(0, 10)))
</script>

<template>
  <div class="time">
    <p v-for="d in week" :key="d">
      <label>
        <input
          class="form-check-input"
          type="checkbox"
          :checked="works(d)"
          :disabled="!may"
          @change="hours(d, works(d) ? { from: 0, to: 0 } : { from: 480, to: 1080 })"
        />
        <span class="day">{{ dayName(d) }}</span>
      </label>
      <template v-if="works(d)">
        <input
          class="form-control"
          type="time"
          :value="clock(calendar.week[d]!.from)"
          :disabled="!may"
          :aria-label="t('practice.worksFrom', { day: dayName(d) })"
          @change="hours(d, { from: minutes(($event.target as HTMLInputElement).value) })"
        />
        –
        <input
          class="form-control"
          type="time"
          :value="clock(calendar.week[d]!.to)"
          :disabled="!may"
          :aria-label="t('practice.worksTo', { day: dayName(d) })"
          @change="hours(d, { to: minutes(($event.target as HTMLInputElement).value) })"
        />
      </template>
      <span v-else class="quiet">{{ t('practice.worksNot') }}</span>
    </p>
    <ul v-if="coming.length">
      <li v-for="d in coming" :key="d.day">
        {{ said.day(d.day) }} {{ d.name }}
        <span class="quiet">{{ t(`practice.free.${d.free}`) }}</span>
        <button v-if="may" type="button" class="go small" @click="leave(d.day)">{{ t('practice.freeNot') }}</button>
      </li>
    </ul>
    <form v-if="may" class="acts" @submit.prevent="add">
      <input v-model="day" class="form-control" type="date" :aria-label="t('practice.freeDay')" required />
      <select v-model="free" class="form-select" :aria-label="t('practice.freeHow')">
        <option value="whole">{{ t('practice.free.whole') }}</option>
        <option value="half">{{ t('practice.free.half') }}</option>
      </select>
      <input
        v-model="name"
        class="form-control"
        :aria-label="t('practice.freeName')"
        :placeholder="t('practice.freeName')"
        maxlength="100"
      />
      <button type="submit" class="btn btn-plain btn-small" :disabled="!day">{{ t('practice.freeAdd') }}</button>
    </form>
  </div>
</template>

<style scoped>
.time p {
  margin: var(--tb-s1) 0;
  font-size: var(--tb-text);
  font-family: inherit;
}
.time :is(.form-control, .form-select) {
  display: inline-block;
  width: auto;
  padding-block: 1px;
}
.day {
  display: inline-block;
  width: 110px;
  margin-left: var(--tb-s1);
}
ul {
  list-style: none;
  padding: 0;
  margin: var(--tb-s2) 0;
}
form {
  flex-wrap: wrap;
  margin-top: var(--tb-s2);
}
</style>
