<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'

/** The practice's own words and patterns that count as sensitive. */
type Pattern = Schemas['Pattern']
const props = defineProps<{ patterns: Pattern[]; may: boolean; set: (patterns: Pattern[]) => Promise<boolean> }>()
const { t } = useI18n()
const text = ref('')
const expression = ref(false)
async function add() {
  if (await props.set([...props.patterns, { text: text.value, expression: expression.value }])) text.value = ''
}
</script>

<template>
  <ul v-if="patterns.length">
    <li v-for="(p, i) in patterns" :key="i">
      <span>
        <b>{{ p.name || p.text }}</b>
        {{ ' ' }}
        <span v-if="p.expression" class="no quiet">{{ p.text }}</span>
      </span>
      <button
        v-if="may"
        type="button"
        class="go small"
        :aria-label="`${t('me.remove')} ${p.name || p.text}`"
        @click="set(patterns.filter((_, n) => n !== i))"
      >
        {{ t('me.remove') }}
      </button>
    </li>
  </ul>
  <form v-if="may" class="acts" @submit.prevent="add">
    <label for="pattern">{{ t('practice.own') }}</label>
    <input id="pattern" v-model="text" class="form-control" maxlength="500" required />
    <label class="small">
      <input v-model="expression" type="checkbox" class="form-check-input" />
      {{ t('practice.expression') }}
    </label>
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
  width: 190px;
}
</style>
