<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import IconMail from '~icons/ph/envelope-simple'
import { useHeldMails } from '../../queries/mailing'

/** The mails that wait for their sender, each leading to where it is confirmed. */
const { t } = useI18n()
const { data: held } = useHeldMails()
</script>

<template>
  <ul v-if="held?.length" class="held">
    <li v-for="m in held" :key="m.id">
      <RouterLink :to="`/outward/mail/${m.id}`">
        <IconMail aria-hidden="true" />
        {{ t('mailing.waiting', { subject: m.subject }) }}
      </RouterLink>
    </li>
  </ul>
</template>

<style scoped>
.held {
  list-style: none;
  margin: 0 0 var(--tb-s3);
  padding: 0;
}
</style>
