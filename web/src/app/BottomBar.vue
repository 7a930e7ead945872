<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { countOf, placesOf } from './places'
import { useSession } from './session'

const { t } = useI18n()
const store = useSession()
</script>

<template>
  <nav class="pbar" :aria-label="t('place.nav')">
    <RouterLink
      v-for="p in placesOf(store.session)"
      :key="p.key"
      :to="p.to"
      :aria-current="$route.meta.place === p.key ? 'page' : undefined"
    >
      <component :is="p.icon" aria-hidden="true" />
      <span>{{ t(`place.${p.key}`) }}</span>
      <sup v-if="p.key !== 'outward' && countOf(p.key, store.session)">{{ countOf(p.key, store.session) }}</sup>
    </RouterLink>
  </nav>
</template>
