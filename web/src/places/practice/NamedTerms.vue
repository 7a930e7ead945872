<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'

/** Terms of links to which the practice gave a name, in the words in which they are typed. */
type Named = Schemas['NamedTerms']
const props = defineProps<{ all: Named[]; may: boolean; set: (all: Named[]) => Promise<boolean> }>()
const { t } = useI18n()
const name = ref('')
const words = ref('')
async function add() {
  if (await props.set([...props.all, { name: name.value, words: words.value }])) name.value = words.value = ''
}
</script>

<template>
  <ul v-if="all.length">
    <li v-for="(n, i) in all" :key="n.name">
      <span>
        <b>{{ n.name }}</b>
        <span class="quiet">{{ ' ' }}– {{ n.words }}</span>
      </span>
      <button
        v-if="may"
        type="button"
        class="go small"
        :aria-label="`${t('me.remove')} ${n.name}`"
        @click="set(all.filter((_, other) => other !== i))"
      >
        {{ t('me.remove') }}
      </button>
    </li>
  </ul>
  <form v-if="may" class="acts" @submit.prevent="add">
    <label for="terms-name">{{ t('practice.termsName') }}</label>
    <input
      id="terms-name"
      v-model="name"
      class="form-control"
      maxlength="60"
      required
      :placeholder="t('practice.termsNameHint')"
      autocomplete="off"
    />
    <label for="terms-words">{{ t('practice.termsWords') }}</label>
    <input
      id="terms-words"
      v-model="words"
      class="form-control words"
      maxlength="300"
      required
      :placeholder="t('practice.termsWordsHint')"
      autocomplete="off"
      spellcheck="false"
    />
    <button type="submit" class="btn btn-plain btn-small">{{ t('practice.addOwn') }}</button>
  </form>
</template>

<style scoped>
ul {
  list-style: none;
  padding: 0;
  margin: var(--tb-s1) 0;
}
li {
  display: flex;
  gap: var(--tb-s4);
  font-size: var(--tb-text);
}
.acts {
  flex-wrap: wrap;
  font-size: var(--tb-text);
}
.form-control {
  width: 160px;
}
.form-control.words {
  flex: 1;
  min-width: 200px;
}
</style>
