<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import SubPlaces from '../../parts/SubPlaces.vue'

/** The two ways out, each a place of its own: links, and transfers. */
const { t } = useI18n()
const route = useRoute()
const places = computed(() => [
  { to: '/outward', words: t('transfers.links'), here: route.path === '/outward' },
  { to: '/outward/transfers', words: t('transfers.title'), here: route.path !== '/outward' },
])
</script>

<template>
  <SubPlaces :label="t('outward.title')" :places="places" />
</template>
