<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSession } from '../app/session'
import MomentField from './MomentField.vue'
import { useSaid } from './said'
import { useWallClock } from '../app/wallclock'

/**
 * The end of a link: quick words, a ruler of days that ends at the practice's limit, or a moment as one says it. For what
 * is out already, weeks count from the end that it has.
 */
const props = defineProps<{ until: string; latest: string; free?: boolean; out?: string }>()
const emit = defineEmits<{ set: [until: string] }>()
const { t, locale } = useI18n()
const said = useSaid()
const store = useSession()
const { local, moment, later } = useWallClock()

const today = computed(() => local(said.now.value).slice(0, 10))
const chosen = computed(() => (props.until ? local(new Date(props.until)) : ''))
const days = computed(() => {
  const longest = Math.round(
    (Date.parse(`${local(new Date(props.latest)).slice(0, 10)}T00:00:00Z`) - Date.parse(`${today.value}T00:00:00Z`)) / 86_400_000,
  )
  return Array.from({ length: Math.min(31, longest + 1) }, (_, i) => {
    const d = new Date(Date.parse(`${today.value}T12:00:00Z`) + i * 86_400_000)
    const iso = d.toISOString().slice(0, 10)
    return {
      iso,
      n: d.getUTCDate(),
      we: [0, 6].includes(d.getUTCDay()),
      in: iso < chosen.value.slice(0, 10),
      sel: iso === chosen.value.slice(0, 10),
      month: i === 0 || d.getUTCDate() === 1 ? d.toLocaleDateString(locale.value, { month: 'long', timeZone: 'UTC' }) : '',
    }
  })
})

function set(day: string, clock = '18:00') {
  const at = moment(day, clock)
  const latest = new Date(props.latest)
  emit('set', (at > latest ? latest : at <= said.now.value ? moment(day, '23:59') : at).toISOString())
}
function inDays(n: number, from = today.value) {
  set(later(from, n))
}
const base = computed(() => (props.out ? local(new Date(props.out)).slice(0, 10) : today.value))
function monthEnd() {
  const [y, m] = today.value.split('-').map(Number)
  set(new Date(Date.UTC(y, m, 0, 12)).toISOString().slice(0, 10))
}
/** A moment that was typed is not later than may be. */
function choose(at: string) {
  emit('set', at > props.latest ? props.latest : at)
}
function key(e: KeyboardEvent, i: number) {
  const to = { ArrowRight: i + 1, ArrowLeft: i - 1, Home: 0, End: days.value.length - 1 }[e.key]
  const next = to === undefined ? undefined : days.value[to]
  if (!next) return
  e.preventDefault()
  set(next.iso)
  const list = (e.currentTarget as HTMLElement).parentElement
  list?.querySelectorAll<HTMLElement>('[role=option]')[to!]?.focus()
}
</script>

<template>
  <div class="acts quick">
    <MomentField :label="t('handout.until')" :at="until" @set="choose" />
    <button type="button" @click="inDays(1)">{{ t('handout.tomorrow') }}</button>
    <button type="button" @click="inDays(7, base)">{{ t(out ? 'handout.weekMore' : 'handout.week') }}</button>
    <button type="button" @click="inDays(14, base)">{{ t(out ? 'handout.fortnightMore' : 'handout.usual') }}</button>
    <button type="button" @click="monthEnd">{{ t('handout.monthEnd') }}</button>
  </div>
  <div class="days" role="listbox" :aria-label="t('handout.days')">
    <em v-for="(d, i) in days" :key="`m${d.iso}`" :style="{ gridColumn: i + 1 }" aria-hidden="true">{{ d.month }}</em>
    <span
      v-for="(d, i) in days"
      :key="d.iso"
      role="option"
      :class="{ we: d.we, in: d.in, sel: d.sel }"
      :aria-selected="d.sel"
      :tabindex="d.sel || (!days.some((x) => x.sel) && i === 0) ? 0 : -1"
      @click="set(d.iso)"
      @keydown="key($event, i)"
      @keydown.enter="set(d.iso)"
    >
      {{ d.n }}
    </span>
    <em v-if="!free" class="longest" aria-hidden="true">{{ t('handout.longest', { n: store.practice?.longestLinkDays }) }}</em>
  </div>
</template>

<style scoped>
.quick {
  gap: 6px 16px;
  flex-wrap: wrap;
}
.quick button {
  color: var(--tb-action);
}

.days span {
  cursor: pointer;
}
.days em {
  overflow: visible;
  width: 0;
}
.days .longest {
  grid-column: 31;
  width: auto;
  justify-self: end;
}
@media (max-width: 900px) {
  .days {
    grid-template-columns: repeat(11, 1fr);
  }
  .days em {
    display: none;
  }
}
</style>
