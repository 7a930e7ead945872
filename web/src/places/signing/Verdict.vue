<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import IconSeal from '~icons/ph/seal-check'
import IconWarn from '~icons/ph/seal-warning'
import IconCheck from '~icons/ph/check'
import IconCross from '~icons/ph/x'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'

/** What a check of a signed paper found, in sentences. */
const props = defineProps<{ check: Schemas['PaperCheck'] }>()
const { t, n } = useI18n()
const said = useSaid()
const good = computed(() => props.check.verdict === 'valid')
const people = computed(() => props.check.signatures.filter((s) => !s.stamps))
const stamps = computed(() => props.check.signatures.filter((s) => s.stamps))
const changes = (s: Schemas['PaperSignature']) => s.after.filter((c) => !['proof', 'signature', 'stamp'].includes(c.what))
const cut = (sha: string) => `${sha.slice(0, 12)}…${sha.slice(-8)}`
</script>

<template>
  <div class="verdict" :data-verdict="check.verdict">
    <p class="says" :class="{ good }">
      <IconSeal v-if="good" aria-hidden="true" />
      <IconWarn v-else aria-hidden="true" />
      <b>{{ t(`signing.verdict.${check.verdict}`) }}</b>
    </p>
    <section v-for="(s, i) in people" :key="i">
      <h3>{{ s.by }}</h3>
      <ul>
        <li v-for="f in s.faults" :key="f" class="t-caution">
          <IconCross aria-hidden="true" />
          {{ t(`signing.fault.${f}`) }}
        </li>
        <li v-if="!s.faults.length">
          <IconCheck aria-hidden="true" />
          {{ t('signing.covers', { bytes: n(s.covered) }) }}
          <span class="no small">SHA-256 {{ cut(s.sha256) }}</span>
        </li>
        <li v-if="s.stampedAt">
          <IconCheck aria-hidden="true" />
          {{ t('signing.stamped', { when: said.exact(s.stampedAt), by: s.stampedBy }) }}
        </li>
        <li v-else-if="s.saidAt">
          <IconCross aria-hidden="true" />
          {{ t('signing.saidAt', { when: said.exact(s.saidAt) }) }}
        </li>
        <li>
          <IconCheck v-if="s.trusted" aria-hidden="true" />
          <IconCross v-else aria-hidden="true" />
          {{ s.trusted ? t('signing.trusted', { root: s.root }) : t('signing.untrusted') }}
        </li>
        <li>
          <IconCheck v-if="s.known === 'good'" aria-hidden="true" />
          <IconCross v-else aria-hidden="true" />
          {{ t(`signing.withdrawal.${s.known}`) }}
        </li>
        <li v-if="s.reason" class="quiet">{{ s.reason }}</li>
        <li v-if="s.serial" class="small quiet">
          {{ t('signing.certificate', { serial: s.serial.slice(0, 16), until: s.validUntil ? said.day(s.validUntil) : '' }) }}
        </li>
        <li v-for="(c, k) in changes(s)" :key="k" :class="{ 't-caution': !c.signed || c.what !== 'field' }">
          <IconCross v-if="!c.signed || c.what !== 'field'" aria-hidden="true" />
          <IconCheck v-else aria-hidden="true" />
          {{ t(`signing.added.${c.what}`, { page: c.page, name: c.name }) }}
          {{ c.signed ? t('signing.coveredLater') : t('signing.coveredNot') }}
        </li>
      </ul>
    </section>
    <p v-for="(s, i) in stamps" :key="`s${i}`" class="small">
      {{ t('signing.docStamp', { when: s.stampedAt ? said.exact(s.stampedAt) : '', by: s.by }) }}
    </p>
  </div>
</template>

<style scoped>
.says {
  display: flex;
  gap: var(--tb-s2);
  align-items: baseline;
  font-size: var(--tb-large);
  color: var(--tb-caution-text);
}
.says.good {
  color: var(--tb-done-text);
}
.says svg,
li svg {
  flex: none;
  position: relative;
  top: 2px;
}
section {
  border-top: 1px solid var(--tb-line);
  padding-top: var(--tb-s2);
}
h3 {
  margin: 0;
}
ul {
  list-style: none;
  margin: 0 0 var(--tb-s3);
  padding: 0;
}
li {
  padding: 3px 0 3px 26px;
}
li svg {
  margin-left: -26px;
  margin-right: var(--tb-s2);
}
</style>
