<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconPackage from '~icons/ph/package'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import type { Subject } from '../../queries/evidence'
import { useSaid } from '../../sentences/said'

/** What is written into an evidence bundle, as a sentence; one act downloads it. */
const props = defineProps<{ of: Subject; events: Schemas['Event'][]; more: boolean }>()
const { t } = useI18n()
const said = useSaid()
const sinces = ['always', 'week', 'month'] as const
const since = ref<(typeof sinces)[number]>('always')
const contents = ref(false)
const options = computed(() => ({
  sinces: sinces.map((s) => ({ value: s, words: t(`evidence.since.${s}`) })),
  contents: [false, true].map((value) => ({ value, words: t(value ? 'evidence.withContents' : 'evidence.withoutContents') })),
}))
const isDocument = computed(() => !!props.of.item && props.events.some((e) => e.itemId === props.of.item && e.itemKind === 'document'))
const href = computed(() => {
  const query = new URLSearchParams(Object.entries(props.of).filter(([, v]) => v) as [string, string][])
  const days = { always: 0, week: 7, month: 30 }[since.value]
  if (days) query.set('since', new Date(Date.now() - days * 86_400_000).toISOString())
  if (contents.value && isDocument.value) query.set('contents', 'yes')
  return `/api/evidence/bundle?${query}`
})
const count = computed(() =>
  props.more ? t('evidence.allEvents') : t('evidence.theEvents', { n: said.count(props.events.length) }, props.events.length),
)
</script>

<template>
  <section>
    <h2>{{ t('evidence.bundle') }}</h2>
    <p class="terms">
      {{ t('evidence.write', { what: since === 'always' ? count : t('evidence.allEvents') }) }}
      <SentenceSelect v-model="since" :label="t('evidence.sinceLabel')" :options="options.sinces" :then="isDocument ? ',' : '.'" />
      {{ ' ' }}
      <SentenceSelect v-if="isDocument" v-model="contents" :label="t('evidence.contentsLabel')" :options="options.contents" then="." />
    </p>
    <div class="acts">
      <a class="btn btn-primary" :href="href" download>
        <IconPackage aria-hidden="true" />
        {{ t('evidence.writeDo') }}
      </a>
      <a v-if="of.link" class="btn btn-plain" :href="`/api/links/${of.link}/receipt`" download>{{ t('evidence.receipt') }}</a>
    </div>
    <p class="small quiet">{{ t('evidence.anyone') }}</p>
    <pre class="code">tabularis verify evidence FILE.zip</pre>
  </section>
</template>

<style scoped>
h2 {
  font-size: var(--tb-lead);
}
pre {
  background: var(--tb-page);
  border: 1px solid var(--tb-line);
  padding: 6px 10px;
  font-size: var(--tb-small);
}
</style>
