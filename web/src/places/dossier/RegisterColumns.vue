<script setup lang="ts">
import { onClickOutside } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useSaid } from '../../sentences/said'
import type { Particular } from '../../queries/particulars'
import { ownColumns, type Column } from './arrangement'
import { useColumnWords } from './columnwords'

/** Which columns there are, as a word of the sentence: what is chosen, in its order, and what else there is. */
const props = defineProps<{ defined: Particular[]; mayTake: boolean }>()
defineEmits<{ take: [] }>()
const chosen = defineModel<string[]>({ required: true })
const { t } = useI18n()
const said = useSaid()
const { named } = useColumnWords()
const open = ref(false)
const box = ref<HTMLElement>()
onClickOutside(box, () => (open.value = false))
const all = computed<Column[]>(() => [
  ...ownColumns.map((id) => ({ id })),
  ...props.defined.map((particular) => ({ id: particular.id, particular })),
])
const there = computed(() => chosen.value.flatMap((id) => all.value.filter((c) => c.id === id)))
const listed = computed(() => [...there.value, ...all.value.filter((c) => !there.value.includes(c))])
const words = computed(() =>
  there.value.length ? t('dossier.withColumns', { names: said.list(there.value.map(named)) }) : t('dossier.noColumns'),
)
const ids = () => there.value.map((c) => c.id)
function toggle(id: string) {
  chosen.value = chosen.value.includes(id) ? ids().filter((c) => c !== id) : [...ids(), id]
}
/** One place to the left, which is upwards in the list. */
function earlier(id: string) {
  const all = ids()
  const at = all.indexOf(id)
  if (at > 0) all.splice(at - 1, 2, id, all[at - 1]!)
  chosen.value = all
}
</script>

<template>
  <span ref="box" class="columns" @keydown.esc.stop="open = false">
    <button type="button" class="w" :aria-expanded="open" @click="open = !open">{{ words }}</button>
    <fieldset v-if="open" class="panel">
      <legend class="visually-hidden">{{ t('particulars.columns') }}</legend>
      <div v-for="(c, i) in listed" :key="c.id" class="one">
        <label>
          <input class="form-check-input" type="checkbox" :checked="chosen.includes(c.id)" @change="toggle(c.id)" />
          {{ named(c) }}
        </label>
        <button
          v-if="i > 0 && i < there.length"
          type="button"
          class="go small"
          :aria-label="`${t('dossier.earlier')}: ${named(c)}`"
          @click="earlier(c.id)"
        >
          {{ t('dossier.earlier') }}
        </button>
      </div>
      <button v-if="mayTake && defined.length" type="button" class="go small" @click="((open = false), $emit('take'))">
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
  min-width: 240px;
  max-height: 360px;
  overflow: auto;
  padding: var(--tb-s2) var(--tb-s3);
  background: var(--tb-sheet);
  border: 1px solid var(--tb-edge);
}
.one {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
  justify-content: space-between;
  min-height: 26px;
}
.one label {
  display: flex;
  gap: var(--tb-s2);
  align-items: center;
}
</style>
