<script setup lang="ts">
import { useI18n } from 'vue-i18n'

const { t } = useI18n()
</script>

<template>
  <main id="content" class="plain">
    <div class="empty" style="padding-left: 0">
      <h1>{{ t('dossier.missing') }}</h1>
      <p>{{ t('dossier.missingText') }}</p>
      <RouterLink class="btn btn-plain" to="/dossiers">{{ t('dossier.toDossiers') }}</RouterLink>
    </div>
  </main>
</template>
