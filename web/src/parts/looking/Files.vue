<script setup lang="ts">
import { computed, ref } from 'vue'
import type { components } from '../../api/schema.gen'
import { sizeWords } from '../../i18n/words'
import type { LookWord } from './word'

/** Files of an archive, or attached to a mail; each opens in place, where that may be. */
const props = defineProps<{ files: components['schemas']['InnerName'][]; opens?: boolean; word: LookWord }>()
defineEmits<{ open: [n: number] }>()
/** More are found by their names. */
const most = 300
const sought = ref('')
const all = computed(() => {
  const key = sought.value.trim().toLowerCase()
  return props.files.map((f, n) => ({ ...f, n })).filter((f) => !key || f.name.toLowerCase().includes(key))
})
const folderOf = (name: string) => name.slice(0, name.lastIndexOf('/') + 1)
const size = (bytes: number) => sizeWords(bytes, document.documentElement.lang === 'de' ? 'de' : 'en')
</script>

<template>
  <div class="within">
    <div class="head">
      <h3>{{ word('files', { n: files.length }) }}</h3>
      <input v-if="files.length > 12" v-model="sought" class="form-control" :aria-label="word('find')" :placeholder="word('find')" />
    </div>
    <ul>
      <li v-for="f in all.slice(0, most)" :key="f.n">
        <component
          :is="opens && !f.locked ? 'button' : 'span'"
          :type="opens && !f.locked ? 'button' : undefined"
          class="file"
          @click="opens && !f.locked && $emit('open', f.n)"
        >
          <span class="quiet">{{ folderOf(f.name) }}</span>
          <b>{{ f.name.slice(folderOf(f.name).length) }}</b>
        </component>
        <span class="quiet small">{{ f.locked ? word('locked') : '' }}</span>
        <span class="small quiet size">{{ size(f.size) }}</span>
      </li>
    </ul>
    <p v-if="all.length > most" class="quiet small">{{ word('moreFiles', { n: all.length - most }) }}</p>
  </div>
</template>

<style scoped>
.within {
  width: min(72ch, 100%);
  margin: var(--tb-s4) auto 0;
}
.head {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
  justify-content: space-between;
}
.head .form-control {
  max-width: 220px;
}
h3 {
  font-size: var(--tb-text);
  font-weight: 560;
  margin: 0;
}
ul {
  list-style: none;
  margin: var(--tb-s2) 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto 76px;
  gap: var(--tb-s3);
  align-items: baseline;
  min-height: 30px;
  padding: var(--tb-s1) 0;
  border-top: 1px solid var(--tb-line);
}
.file {
  border: 0;
  background: none;
  padding: 0;
  text-align: left;
  color: inherit;
  overflow-wrap: anywhere;
}
button.file b {
  color: var(--tb-action);
}
b {
  font-weight: 560;
}
.size {
  text-align: right;
}
</style>
