<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Terms from '../../parts/Terms.vue'
import { useSaid } from '../../sentences/said'

/** The terms under which one gave something before, as whole sentences: to be given again at once, or taken over and changed. */
defineProps<{ all: Schemas['Remembered'][]; busy: boolean }>()
defineEmits<{ again: [r: Schemas['Remembered']]; take: [r: Schemas['Remembered']] }>()
const { t } = useI18n()
const said = useSaid()
const sent = (r: Schemas['Remembered']) => r.to.join(', ')
</script>

<template>
  <section class="remembered" :aria-label="t('remembered.title')">
    <h3 class="small quiet">{{ t('remembered.title') }}</h3>
    <ul>
      <li v-for="(r, i) in all" :key="i">
        <p class="terms listed">
          <b v-if="r.name">{{ r.name }}:{{ ' ' }}</b>
          <Terms :sentence="r.sentence" />
        </p>
        <div class="acts">
          <button type="button" class="go" :disabled="busy" @click="$emit('again', r)">
            {{ r.to.length ? t('remembered.send', { to: sent(r) }) : t('remembered.again') }}
          </button>
          <button type="button" class="go" :disabled="busy" @click="$emit('take', r)">{{ t('remembered.take') }}</button>
          <span class="small quiet">
            <template v-if="r.at && r.times">{{ t('remembered.last', { n: r.times, when: said.when(r.at) }, r.times) }}</template>
            <template v-if="r.hasPassword">{{ t('remembered.password') }}</template>
          </span>
        </div>
      </li>
    </ul>
  </section>
</template>

<style scoped>
.remembered {
  margin-top: var(--tb-s3);
  border-top: 1px solid var(--tb-line);
  padding-top: var(--tb-s2);
}
ul {
  list-style: none;
  padding: 0;
  margin: 0;
}
li {
  padding: var(--tb-s1) 0;
}
li p {
  margin: 0;
}
.acts {
  flex-wrap: wrap;
}
</style>
