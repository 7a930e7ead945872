<script setup lang="ts">
import { computed, ref } from 'vue'
import IconX from '~icons/ph/x'
import Over from '../parts/Over.vue'
import { seek, type HelpTopic } from './topics'

/** Help, searchable; what concerns the place where one is stands first. Words come in by the owner. */
const props = defineProps<{
  topics: HelpTopic[]
  place?: string
  /** Who helps where this does not. */
  helper: string
  words: { title: string; find: string; none: string; close: string; keys: string; key: string }
}>()
defineEmits<{ close: [] }>()
const asked = ref('')
const found = computed(() => seek(props.topics, asked.value, props.place))
</script>

<template>
  <Over :label="words.title" class="help-over" @close="$emit('close')">
    <div class="veil" @click="$emit('close')"></div>
    <div class="help">
      <header role="presentation">
        <h2>{{ words.title }}</h2>
        <button type="button" :aria-label="words.close" @click="$emit('close')"><IconX aria-hidden="true" /></button>
      </header>
      <input v-model="asked" class="form-control" type="search" autofocus :placeholder="words.find" :aria-label="words.find" />
      <div class="topics" tabindex="0" role="region" :aria-label="words.title">
        <article v-for="t in found" :key="t.id" :data-topic="t.id">
          <h3>{{ t.title }}</h3>
          <p>{{ t.text }}</p>
          <dl v-if="t.keys.length" :aria-label="words.keys">
            <template v-for="[key, does] in t.keys" :key="key">
              <dt>
                <kbd>{{ key }}</kbd>
              </dt>
              <dd>{{ does }}</dd>
            </template>
          </dl>
        </article>
        <p v-if="!found.length" class="quiet" role="status">{{ words.none }}</p>
      </div>
      <footer class="small">
        <p>{{ helper }}</p>
        <p class="quiet">{{ words.key }}</p>
      </footer>
    </div>
  </Over>
</template>

<style scoped>
.help-over {
  position: fixed;
  inset: 0;
  z-index: var(--tb-layer-finder);
  display: flex;
  justify-content: flex-end;
}
.veil {
  position: absolute;
  inset: 0;
  background: var(--tb-shade);
}
.help {
  position: relative;
  display: flex;
  flex-direction: column;
  gap: var(--tb-s2);
  width: min(440px, 100vw);
  padding: var(--tb-s4);
  background: var(--tb-page);
  border-left: 1px solid var(--tb-rule);
}
header {
  display: flex;
  justify-content: space-between;
  align-items: center;
}
header button {
  min-width: 30px;
  min-height: 30px;
}
.topics {
  flex: 1;
  min-height: 0;
  overflow-y: auto;
}
article {
  padding: var(--tb-s3) 0;
  border-bottom: 1px solid var(--tb-line);
}
article p {
  margin: var(--tb-s1) 0;
  font-size: var(--tb-text);
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 2px 14px;
  margin: var(--tb-s2) 0 0;
  font-size: var(--tb-text);
}
dd {
  margin: 0;
}
kbd {
  padding: 0 5px;
  border: 1px solid var(--tb-rule);
  border-radius: 3px;
  background: var(--tb-sheet);
  color: var(--tb-ink);
  font-size: var(--tb-small);
}
footer p {
  margin: 0;
}
</style>
