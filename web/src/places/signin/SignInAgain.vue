<script setup lang="ts">
import { BModal } from 'bootstrap-vue-next'
import { useI18n } from 'vue-i18n'
import SignInForm from './SignInForm.vue'

/** The session ended while a page was open: one signs in over it and goes on; what was written stays. */
const { t } = useI18n()
</script>

<template>
  <BModal :model-value="true" no-footer no-header no-close-on-backdrop no-close-on-esc centered :title="t('signin.sign')">
    <h2>{{ t('signin.sign') }}</h2>
    <p class="quiet">{{ t('signin.ended') }}</p>
    <SignInForm />
  </BModal>
</template>
