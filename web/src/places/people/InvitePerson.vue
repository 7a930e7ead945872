<script setup lang="ts">
import { useAct } from '../../app/act'
import { computed, reactive } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'

/** An invitation by mail, as a sentence. */
const props = defineProps<{ administers: boolean; proprietor: boolean }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const who = reactive({ email: '', name: '', organisation: '', standing: 'guest', message: '' })
const { act, wrong } = useAct()
const standings = computed(() =>
  ['guest', ...(props.administers ? ['colleague'] : []), ...(props.proprietor ? ['administrator'] : [])].map((s) => ({
    value: s,
    words: t(`people.standing.${s}`),
  })),
)

const invite = () =>
  act(
    async () => {
      await api.POST('/people', { body: who })
      emit('done')
    },
    { done: t('people.invited', { name: who.name || who.email }) },
  )
</script>

<template>
  <form class="written" @submit.prevent="invite" @keydown.esc="$emit('done')">
    <I18nT keypath="people.inviteSentence" tag="p" class="terms" scope="global">
      <template #email>
        <input
          v-model="who.email"
          class="form-control word"
          type="email"
          :aria-label="t('signin.email')"
          :placeholder="t('signin.email')"
          required
          autofocus
        />
      </template>
      <template #name>
        <input
          v-model="who.name"
          class="form-control word"
          :aria-label="t('people.theirName')"
          :placeholder="t('people.theirName')"
          maxlength="200"
        />
      </template>
      <template #organisation>
        <input
          v-model="who.organisation"
          class="form-control word"
          :aria-label="t('people.organisation')"
          :placeholder="t('people.organisation')"
          maxlength="200"
        />
      </template>
      <template #standing>
        <SentenceSelect v-model="who.standing" :label="t('people.columns.standing')" :options="standings" />
      </template>
    </I18nT>
    <p class="small quiet">{{ t(`people.inviteHint.${who.standing}`) }}</p>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button class="btn btn-primary btn-small" type="submit">{{ t('people.invite') }}</button>
      <button class="btn btn-text btn-small" type="button" @click="$emit('done')">{{ t('common.discard') }}</button>
    </div>
  </form>
</template>

<style scoped>
.written {
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 12px 14px;
  margin-top: 10px;
}
.word {
  display: inline-block;
  width: 190px;
  height: 30px;
  margin: 2px 0;
}
.acts {
  margin-top: var(--tb-s2);
}
</style>
