<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import Confirm from '../../parts/Confirm.vue'
import Door from '../../parts/Door.vue'
import { useReach } from '../../queries/sharing'
import { useSaid } from '../../sentences/said'

/** Said before files come into a place that others outside can open: who they are. Once for each place. */
const props = defineProps<{ folder: string; files: number }>()
defineEmits<{ bring: []; discard: [] }>()
const { t } = useI18n()
const said = useSaid()
const { data: reach, error } = useReach(() => props.folder)
const outside = computed(() => {
  const names = reach.value?.ways.flatMap((w) => w.people.filter((p) => p.outside).map((p) => p.name)) ?? []
  const invited = reach.value?.ways.filter((w) => w.grant.invited).map((w) => w.grant.name) ?? []
  return [...new Set([...names, ...invited])]
})
/** A link that gives what is newest gives what comes in, too. */
const links = computed(() => reach.value?.links.filter((l) => l.living && l.newest && l.kind !== 'intake') ?? [])
const who = computed(() => said.list([...outside.value, ...links.value.map((l) => t('dossier.holders', { name: l.name }))]))
</script>

<template>
  <Confirm
    class="told"
    :act="t('dossier.bring', { n: files }, files)"
    :discard="t('common.discard')"
    :unready="!reach && !error"
    @do="$emit('bring')"
    @discard="$emit('discard')"
  >
    <p class="acts">
      <Door :state="links.length ? 'open' : 'ajar'" />
      <span>{{ reach && !who ? t('dossier.othersNone') : t('dossier.othersOpen', { who: who || '…' }) }}</span>
    </p>
  </Confirm>
</template>

<style scoped>
.told {
  margin: var(--tb-s2) 20px;
}
p {
  margin: 0;
}
</style>
