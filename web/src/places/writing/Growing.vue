<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** The last versions, and the one that grows while people write. */
const props = defineProps<{ document: Schemas['Document']; newest: number; grows: boolean }>()
const { t } = useI18n()
const said = useSaid()
const last = computed(() =>
  props.document.versions
    .filter((v) => !v.removed)
    .slice(0, 2)
    .reverse(),
)
const next = computed(() => Math.max(props.newest, props.document.versions[0]?.number ?? 0) + 1)
</script>

<template>
  <ol class="growing" :aria-label="t('writing.versions')">
    <li v-for="v in last" :key="v.number">
      <span class="knot no">{{ v.number }}</span>
      <span class="tiny quiet">{{ v.title || said.when(v.at) }}</span>
    </li>
    <li v-if="grows" class="next">
      <span class="knot no">{{ next }}</span>
      <span class="tiny">{{ t('writing.grows') }}</span>
    </li>
  </ol>
</template>

<style scoped>
.growing {
  list-style: none;
  margin: 0;
  padding: 0;
  display: flex;
}
li {
  position: relative;
  display: grid;
  justify-items: center;
  min-width: 110px;
}
li + li::before {
  content: '';
  position: absolute;
  top: 11px;
  right: calc(50% + 12px);
  width: calc(100% - 24px);
  border-top: 2px solid var(--tb-edge);
}
li.next::before {
  border-top: 2px dashed var(--tb-action);
}
.knot {
  display: grid;
  place-items: center;
  width: 24px;
  height: 24px;
  border: 2px solid var(--tb-edge);
  border-radius: 50%;
  font-size: var(--tb-tiny);
}
.next .knot {
  border: 2px dashed var(--tb-action);
}
.tiny {
  font-size: var(--tb-tiny);
  max-width: 108px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
@media (max-width: 900px) {
  .growing {
    display: none;
  }
}
</style>
