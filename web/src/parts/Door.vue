<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

/** Reach as a door in three states, told by shape first: closed, ajar, open. */
const props = defineProps<{ state: 'closed' | 'ajar' | 'open'; count?: number; closed?: boolean }>()
const { t } = useI18n()
const label = computed(
  () => (props.closed ? `${t('door.shut')} ` : '') + t(`door.${props.state}`, { n: props.count ?? 1 }, props.count ?? 1),
)
</script>

<template>
  <span class="door" :class="[state, { shut: closed }]" role="img" :aria-label="label" :title="label">
    <svg v-if="state === 'closed'" viewBox="0 0 20 20">
      <path d="M3.75 1.25h12.5V17.5H3.75z" fill="currentColor" />
      <path d="M1.25 17.25h17.5" stroke="currentColor" stroke-width="1.5" />
      <circle cx="12.8" cy="10" r="1.5" fill="var(--tb-knob,#fff)" />
    </svg>
    <svg v-else-if="state === 'ajar'" viewBox="0 0 20 20">
      <path d="M4.5 17.25V2h11.75v15.25M12 17.25h6.75M1.25 17.25H4" fill="none" stroke="currentColor" stroke-width="1.5" />
      <path d="M3.75 1.25h1L10.5 3v17L3.75 18z" fill="currentColor" />
    </svg>
    <svg v-else viewBox="0 0 20 20">
      <path d="M6.75 17.25V2H18v15.25M6.75 17.25h13" fill="none" stroke="currentColor" stroke-width="1.75" />
      <path
        d="M6.75 2L1.25 4.75V19.25l5.5-2"
        fill="currentColor"
        fill-opacity=".22"
        stroke="currentColor"
        stroke-width="1.75"
        stroke-linejoin="round"
      />
    </svg>
    <template v-if="count !== undefined">{{ count }}</template>
  </span>
</template>
