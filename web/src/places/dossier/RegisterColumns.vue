<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { most } from './columns'
import { useSaid } from '../../sentences/said'
import type { Particular } from '../../queries/particulars'

/** Which particulars stand as columns, as a word of the sentence; in the order in which they were chosen. */
const props = defineProps<{ defined: Particular[]; mayTake: boolean }>()
defineEmits<{ take: [] }>()
const chosen = defineModel<string[]>({ required: true })
const { t } = useI18n()
const said = useSaid()
const open = ref(false)
const box = ref<HTMLElement>()
onClickOutside(box, () => (open.value = false))
const words = computed(() => {
  const names = chosen.value.flatMap((id) => props.defined.filter((p) => p.id === id).map((p) => p.name))
  return names.length ? t('particulars.with', { names: said.list(names) }) : t('particulars.noColumns')
})
function toggle(id: string) {
  chosen.value = chosen.value.includes(id) ? chosen.value.filter((c) => c !== id) : [...chosen.value, id].slice(-most)
}
</script>

<template>
  <span ref="box" class="columns" @keydown.esc.stop="open = false">
    <button type="button" class="w" :aria-expanded="open" @click="open = !open">{{ words }}</button>
    <fieldset v-if="open" class="panel">
      <legend class="visually-hidden">{{ t('particulars.columns') }}</legend>
      <label v-for="p in defined" :key="p.id">
        <input class="form-check-input" type="checkbox" :checked="chosen.includes(p.id)" @change="toggle(p.id)" />
        {{ p.name }}
      </label>
      <button v-if="mayTake" type="button" class="go small" @click="((open = false), $emit('take'))">
        {{ t('particulars.table.begin') }}
      </button>
    </fieldset>
  </span>
</template>

<style scoped>
.columns {
  position: relative;
}
.panel {
  position: absolute;
  top: 100%;
  left: 0;
  z-index: var(--tb-layer-menu);
  display: grid;
  gap: var(--tb-s1);
  min-width: 200px;
  max-height: 320px;
  overflow: auto;
  padding: var(--tb-s2) var(--tb-s3);
  background: var(--tb-sheet);
  border: 1px solid var(--tb-edge);
}
.panel label {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
  min-height: 26px;
}
</style>
