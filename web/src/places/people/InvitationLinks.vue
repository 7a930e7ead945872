<script setup lang="ts">
import { useDossiers } from '../../queries/dossiers'
import { computed, reactive, ref } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import IconCopy from '~icons/ph/copy'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useSaid } from '../../sentences/said'

/** Invitation links: for those whose addresses are not known yet. */
defineProps<{ links: Schemas['InvitationLink'][] }>()
const { t } = useI18n()
const said = useSaid()
const { data: dossiers } = useDossiers()
const writing = ref(false)
const { act, wrong } = useAct()
const words = computed(() => ({
  standings: ['guest', 'colleague'].map((s) => ({ value: s, words: t(`people.standing.${s}`) })),
  dossiers: [{ value: '', words: t('people.noDossier') }, ...(dossiers.value ?? []).map((d) => ({ value: d.code, words: d.code }))],
  levels: ['look', 'view', 'remark', 'propose', 'edit', 'deposit'].map((l) => ({ value: l, words: t(`level.${l}`) })),
}))
const terms = reactive({ standing: 'guest', dossier: '', level: 'view', domain: '', uses: 4, days: 14 })

/** What is being written is done with when the act is. */
const change = (fn: () => Promise<unknown>, done: string) => act(() => fn().then(() => (writing.value = false)), { done })
const make = () =>
  change(
    () =>
      api.POST('/invitation-links', {
        body: {
          standing: terms.standing,
          dossier: terms.dossier || undefined,
          level: terms.dossier ? terms.level : undefined,
          domain: terms.domain || undefined,
          uses: terms.uses,
          until: new Date(Date.now() + terms.days * 86_400_000).toISOString(),
        },
      }),
    t('people.linkMade'),
  )
const end = (id: string) => change(() => api.POST('/invitation-links/{id}/end', { params: { path: { id } } }), t('people.linkEnded'))
const copy = async (address: string) => (await copyText(address)) && tell(t('common.copied'))
</script>

<template>
  <section>
    <h2>{{ t('people.links') }}</h2>
    <p class="small quiet">{{ t('people.linksHint') }}</p>
    <div v-for="l in links" :key="l.id" class="one">
      <p class="terms">
        {{ t(l.domain ? 'people.linkDomain' : 'people.linkAny', { domain: l.domain }) }}
        <b :class="{ 'with-comma': !l.code }">{{ t(`people.standing.${l.standing}`) }}</b>
        <template v-if="l.code">
          {{ t('people.linkIn') }}
          <b class="no with-comma">{{ l.code }}</b>
          <b class="with-comma">{{ t(`level.${l.level}`) }}</b>
        </template>
        {{ t('people.linkUses', { n: l.usesLimit }, l.usesLimit) }}, {{ t('access.until', { when: said.when(l.until) }) }}.
      </p>
      <p class="small quiet">
        {{ [t('people.placesLeft', { n: l.usesLimit - l.uses }, l.usesLimit - l.uses), ...l.joined].join('; ') }}
      </p>
      <div class="acts">
        <button type="button" class="btn btn-plain btn-small" @click="copy(l.address)">
          <IconCopy class="i i-s" aria-hidden="true" />
          {{ t('common.copy') }}
        </button>
        <button type="button" class="btn btn-plain btn-small" @click="end(l.id)">{{ t('people.endLink') }}</button>
      </div>
    </div>
    <form v-if="writing" class="one" @submit.prevent="make">
      <I18nT keypath="people.linkSentence" tag="p" class="terms" scope="global">
        <template #domain>
          <input v-model="terms.domain" class="form-control word" :aria-label="t('people.domain')" :placeholder="t('people.anyAddress')" />
        </template>
        <template #standing>
          <SentenceSelect v-model="terms.standing" :label="t('people.columns.standing')" :options="words.standings" />
        </template>
        <template #dossier>
          <SentenceSelect v-model="terms.dossier" :label="t('people.linkIn')" :options="words.dossiers" />
        </template>
        <template #level>
          <SentenceSelect v-model="terms.level" :disabled="!terms.dossier" :label="t('access.mayLabel')" :options="words.levels" />
        </template>
        <template #uses>
          <input v-model.number="terms.uses" class="form-control word n" type="number" min="1" max="500" :aria-label="t('people.uses')" />
        </template>
        <template #days>
          <input v-model.number="terms.days" class="form-control word n" type="number" min="1" max="60" :aria-label="t('people.days')" />
        </template>
      </I18nT>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <div class="acts">
        <button class="btn btn-primary btn-small" type="submit">{{ t('people.makeLink') }}</button>
        <button class="btn btn-text btn-small" type="button" @click="writing = false">{{ t('common.discard') }}</button>
      </div>
    </form>
    <button v-else type="button" class="btn btn-plain btn-small" style="margin-top: 10px" @click="writing = true">
      {{ t('people.makeLink') }}
    </button>
  </section>
</template>

<style scoped>
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
}
.one {
  padding: 10px 0;
  border-bottom: 1px solid var(--tb-line);
}
.one .terms {
  font-size: var(--tb-lead);
  line-height: 27px;
}
.word {
  display: inline-block;
  width: 150px;
  height: 28px;
}
.word.n {
  width: 64px;
}
.acts {
  margin-top: var(--tb-s2);
}
</style>
