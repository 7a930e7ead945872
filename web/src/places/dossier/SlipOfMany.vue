<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { stemOf } from '../../i18n/words'

/** Several documents chosen together. */
const props = defineProps<{ rows: Schemas['DocumentRow'][]; archive: string }>()
const { t } = useI18n()
const said = useSaid()
const size = computed(() => said.size(props.rows.reduce((sum, r) => sum + r.size, 0)))
</script>

<template>
  <aside class="slip only-wide-slip" :aria-label="t('slip.chosen')">
    <header>
      <span class="no quiet">{{ t('common.documents', { n: rows.length }, rows.length) }}</span>
      <h2>{{ t('slip.chosen') }}</h2>
      <div class="acts">
        <a class="btn btn-plain btn-small" :href="archive" download>{{ t('common.downloadSize', { size }) }}</a>
      </div>
    </header>
    <section v-for="r in rows" :key="r.id">
      <div class="sum">
        <span>
          <b>{{ String(r.number).padStart(3, '0') }}</b>
          {{ stemOf(r.name) }}
          <span class="quiet small">v. {{ r.version }}, {{ said.size(r.size) }}</span>
        </span>
      </div>
    </section>
  </aside>
</template>

<style scoped>
@media (max-width: 900px) {
  .only-wide-slip {
    display: none;
  }
}
</style>
