<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useDeliveries } from '../../queries/deliveries'
import { useHeldMails } from '../../queries/mailing'
import { useSaid } from '../../sentences/said'

/** What waits for a word of one's own: files that somebody outside sent, and mails that one's mail program handed over. */
const { t } = useI18n()
const said = useSaid()
const { data: sent } = useDeliveries(false)
const { data: mails } = useHeldMails()
const all = computed(() => [
  ...(sent.value ?? []).map((d) => ({
    id: d.id,
    to: `/desk/received#${d.id}`,
    words: t('deliveries.from', { name: d.name, files: t('deliveries.filesOnly', { n: d.files.length }, d.files.length) }),
    at: d.at,
  })),
  ...(mails.value ?? []).map((m) => ({
    id: m.id,
    to: `/outward/mail/${m.id}`,
    words: t('mailing.waiting', { subject: m.subject }),
    at: m.at,
  })),
])
</script>

<template>
  <section v-if="all.length">
    <h2>{{ t('deliveries.waits') }}</h2>
    <ul>
      <li v-for="w in all" :key="w.id">
        <RouterLink :to="w.to">{{ w.words }}</RouterLink>
        <span class="small quiet" :title="said.full(w.at)">{{ said.when(w.at) }}</span>
      </li>
    </ul>
  </section>
</template>

<style scoped>
section {
  margin-bottom: var(--tb-s4);
}
h2 {
  padding-bottom: var(--tb-s1);
  border-bottom: 1px solid var(--tb-ink);
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--tb-s3);
  align-items: baseline;
  padding: 5px 0;
  border-bottom: 1px solid var(--tb-line);
}
a {
  overflow-wrap: anywhere;
}
</style>
