<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useSession } from '../../app/session'

/** What lies on the desk: what was given by colleagues, and what came from outside. */
const { t } = useI18n()
const store = useSession()
</script>

<template>
  <nav v-if="store.session?.standing !== 'guest'" class="ways small" :aria-label="t('deliveries.desk')">
    <RouterLink to="/desk" exact-active-class="here">{{ t('deliveries.desk') }}</RouterLink>
    <span class="quiet" aria-hidden="true">·</span>
    <RouterLink to="/desk/received" exact-active-class="here">
      {{ t('deliveries.title') }}
      <b v-if="store.session?.received" class="no">{{ store.session.received }}</b>
    </RouterLink>
  </nav>
</template>
