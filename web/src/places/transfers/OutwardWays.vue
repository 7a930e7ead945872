<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'

/** The two ways out, each a place of its own: links, and transfers. */
const { t } = useI18n()
const route = useRoute()
</script>

<template>
  <nav class="ways small" :aria-label="t('outward.title')">
    <RouterLink to="/outward" exact-active-class="here">{{ t('transfers.links') }}</RouterLink>
    <span class="quiet" aria-hidden="true">·</span>
    <RouterLink to="/outward/transfers" :class="{ here: route.path !== '/outward' }">{{ t('transfers.title') }}</RouterLink>
  </nav>
</template>

<style scoped>
.ways {
  display: flex;
  gap: var(--tb-s2);
  margin-bottom: var(--tb-s1);
}
.here {
  color: var(--tb-ink);
  font-weight: 620;
  text-decoration: none;
}
</style>
