<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSaid } from '../../sentences/said'

/** How often a link was opened, a bar a day, from the first opening to the last. */
const props = defineProps<{ at: string[] }>()
const { t } = useI18n()
const said = useSaid()
/** Longer ago is left out. */
const longest = 60
const days = computed(() => {
  const counts = new Map<string, number>()
  for (const at of props.at) counts.set(said.day(at), (counts.get(said.day(at)) ?? 0) + 1)
  const last = Math.max(...props.at.map((at) => new Date(at).getTime()))
  const out: { day: string; n: number }[] = []
  for (let left = counts.size, back = 0; left > 0 && back < longest; back++) {
    const day = said.day(new Date(last - back * 86_400_000))
    const n = counts.get(day) ?? 0
    if (n) left--
    out.unshift({ day, n })
  }
  return out
})
const most = computed(() => Math.max(...days.value.map((d) => d.n)))
</script>

<template>
  <figure v-if="at.length > 1">
    <figcaption class="small quiet">{{ t('outward.plot') }}</figcaption>
    <svg
      :viewBox="`0 0 ${days.length * 12} 60`"
      :width="days.length * 12"
      height="60"
      role="img"
      :aria-label="days.map((d) => `${d.day}: ${d.n}`).join(', ')"
    >
      <path :d="`M0 59.5H${days.length * 12}`" stroke="var(--tb-line)" />
      <rect
        v-for="(d, i) in days"
        :key="d.day"
        :x="i * 12 + 2"
        width="8"
        :y="59 - (d.n / most) * 52"
        :height="(d.n / most) * 52"
        fill="var(--tb-bearer)"
      >
        <title>{{ d.day }}: {{ d.n }}</title>
      </rect>
    </svg>
    <div class="small quiet ends">
      <span>{{ days[0]?.day }}</span>
      <span v-if="days.length > 1">{{ days.at(-1)?.day }}</span>
    </div>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
  flex: none;
  max-width: 100%;
  overflow-x: auto;
}
.ends {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s3);
}
</style>
