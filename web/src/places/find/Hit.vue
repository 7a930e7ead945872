<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import Meant from '../../sentences/Meant.vue'

/** A document that answers a question: its name leads to where it stands, its place in the text to the page. */
const props = defineProps<{ hit: Schemas['FoundHit']; words: string; dossierName?: string }>()
const { t } = useI18n()
const said = useSaid()
const at = `/d/${props.hit.place.ref}`
const version = props.hit.counts ? undefined : props.hit.version
/** What leads to the very page, with the words marked. */
const there = { path: at, query: { look: '1', q: props.words, page: props.hit.page, version } }
</script>

<template>
  <li class="hit">
    <div class="head">
      <span class="code quiet">{{ hit.place.ref }}</span>
      <RouterLink :to="at" class="name"><Meant :parts="hit.name" /></RouterLink>
      <span class="small quiet kind">{{ t(`find.one.${hit.kind}`) }}, {{ said.size(hit.size) }}</span>
    </div>
    <p class="small quiet">
      {{ [dossierName, t('find.version', { n: hit.version }), hit.by, said.when(hit.at)].filter(Boolean).join(', ') }}
      <span v-if="!hit.counts" class="t-caution">{{ t('find.countsNot') }}</span>
    </p>
    <p v-if="hit.snippet" class="place">
      <RouterLink :to="there" class="go small" :title="hit.page ? t('find.openPage', { n: hit.page }) : t('find.openThere')">
        {{ hit.page ? t('find.page', { n: hit.page }) : t('find.text') }}
      </RouterLink>
      <RouterLink :to="there" class="words terms" tabindex="-1"><Meant :parts="hit.snippet" /></RouterLink>
    </p>
    <p v-else class="place small quiet">
      <span>{{ t('find.beside') }}</span>
      <span>{{ t(`find.written.${hit.written}`) }}</span>
    </p>
  </li>
</template>

<style scoped>
.hit {
  padding: 10px 0 9px;
  border-bottom: 1px solid var(--tb-line);
}
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 10px;
}
.name {
  font-weight: 560;
  color: var(--tb-ink);
  overflow-wrap: anywhere;
}
.kind {
  margin-left: auto;
}
.place {
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  gap: 0 10px;
  padding-top: 3px;
}
.words {
  color: var(--tb-ink);
  overflow-wrap: anywhere;
}
@media (max-width: 900px) {
  .place {
    grid-template-columns: minmax(0, 1fr);
  }
  .kind {
    margin-left: 0;
  }
}
</style>
