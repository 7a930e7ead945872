<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import { useSession } from '../../app/session'
import SubPlaces from '../../parts/SubPlaces.vue'

/** What lies on the desk: what was given by colleagues, and what came from outside. Guests are sent nothing. */
const { t } = useI18n()
const route = useRoute()
const store = useSession()
const places = computed(() => [
  { to: '/desk', words: t('deliveries.desk'), here: route.path === '/desk' },
  { to: '/desk/received', words: t('deliveries.title'), here: route.path !== '/desk', waits: store.session?.received },
])
</script>

<template>
  <SubPlaces v-if="store.session?.standing !== 'guest'" :label="t('deliveries.desk')" :places="places" />
</template>
