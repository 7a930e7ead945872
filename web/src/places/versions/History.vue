<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import KeepingWords from '../../sentences/KeepingWords.vue'
import { useSaid } from '../../sentences/said'
import { useVersions } from './acts'
import VersionRow from './VersionRow.vue'

/** A document's versions, newest first: which counts, how each came about, and what can be done with it. */
const props = defineProps<{ document: Schemas['Document'] }>()
defineEmits<{ look: [number: number] }>()
const { t } = useI18n()
const said = useSaid()
const { add } = useVersions(() => props.document.id)
const mayChange = computed(() => props.document.may.includes('change'))
const note = ref('')
const over = ref(false)
const gone = computed(() => props.document.versions.filter((v) => v.removed).length)
const summary = computed(() => {
  const n = props.document.versions.length
  return (
    t('versions.summary', { n: said.count(n) }, n) +
    (gone.value ? t('versions.someRemoved', { n: said.count(gone.value) }, gone.value) : '')
  )
})
/** The automatic saves of one sitting, which stand in one line until it is unfolded. */
const unfolded = ref<number[]>([])
const foldedIn = (n: number) => props.document.versions.filter((v) => v.foldsInto === n)
const listed = computed(() => props.document.versions.filter((v) => !v.foldsInto || unfolded.value.includes(v.foldsInto)))
function fold(n: number) {
  unfolded.value = unfolded.value.includes(n) ? unfolded.value.filter((u) => u !== n) : [...unfolded.value, n]
}
const keeping = computed(() => props.document.keeping)
function bring(files?: FileList | null) {
  over.value = false
  if (!files?.length) return
  add(files[0]!, note.value)
  note.value = ''
}
function chosen(e: Event) {
  const field = e.target as HTMLInputElement
  bring(field.files)
  field.value = ''
}
</script>

<template>
  <div
    class="history"
    :class="{ over }"
    @dragover.prevent.stop="over = mayChange"
    @dragleave="over = false"
    @drop.prevent.stop="mayChange && bring($event.dataTransfer?.files)"
  >
    <p v-if="gone" class="small quiet sums">{{ summary }}</p>
    <ol :aria-label="t('slip.versions', { ref: document.ref })">
      <template v-for="v in listed" :key="v.number">
        <VersionRow
          :document="document"
          :version="v"
          :folded="foldedIn(v.number)"
          :unfolded="unfolded.includes(v.number)"
          @look="$emit('look', v.number)"
          @fold="fold(v.number)"
        />
      </template>
    </ol>
    <form v-if="mayChange" class="add" @submit.prevent>
      <input
        v-model="note"
        class="form-control"
        data-field="note"
        maxlength="200"
        :aria-label="t('versions.note')"
        :placeholder="t('versions.noteHint')"
        autocomplete="off"
      />
      <label class="btn btn-plain btn-small">
        {{ t('versions.add') }}
        <input type="file" class="visually-hidden" @change="chosen" />
      </label>
    </form>
    <p class="small quiet kept">
      {{ t('keeping.here') }}
      <KeepingWords :rule="keeping.rule" />
      <template v-if="keeping.rule.months">
        {{ keeping.next ? t('keeping.nextGoes', { when: said.day(keeping.next) }) : t('keeping.neverGoes') }}
      </template>
      {{ t('keeping.removable', { n: keeping.days }, keeping.days) }}
    </p>
  </div>
</template>

<style scoped>
.sums {
  margin: 0 0 var(--tb-s1);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
.kept {
  margin: var(--tb-s2) 0 0;
}
.add {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--tb-s2);
  align-items: center;
  padding: var(--tb-s2) 0;
  border-top: 1px solid var(--tb-line);
}
.add .form-control {
  height: 30px;
}
.add label:focus-within {
  outline: 2px solid var(--tb-action);
  outline-offset: 2px;
}
.over {
  outline: 2px dashed var(--tb-action);
  outline-offset: 4px;
}
</style>
