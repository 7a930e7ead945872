<script setup lang="ts">
import { nextTick, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'

/** The line above a document that is written: its name, how it stands, and its versions' names. */
const props = defineProps<{
  document: string
  place: Schemas['Place'] | undefined
  title: string
  state: string
  caution: boolean
  supersede: boolean
  writes: boolean
  /** Whether it is set on the practice's pages: what a program laid out has pages of its own. */
  typeset?: boolean
}>()
const emit = defineEmits<{ kept: [k: Schemas['WritingKept']] }>()
const { t } = useI18n()
const naming = ref(false)
const versionName = ref('')
const nameField = useTemplateRef<HTMLInputElement>('nameField')
const { act, busy, wrong } = useAct()
async function openNaming() {
  naming.value = true
  await nextTick()
  nameField.value?.focus()
}
/** As it stands now, on the practice's pages: what was written becomes a version before. */
const asPaper = () =>
  act(
    async () => {
      if (props.writes)
        emit('kept', await data(api.POST('/documents/{id}/writing/version', { params: { path: { id: props.document } }, body: {} })))
      const link = document.createElement('a')
      link.href = `/api/documents/${props.document}/paper.pdf`
      link.download = ''
      link.click()
    },
    { aloud: true },
  )
async function keep() {
  let number = 0
  const did = await act(
    async () => {
      const body = versionName.value.trim() ? { title: versionName.value.trim() } : {}
      const k = await data(api.POST('/documents/{id}/writing/version', { params: { path: { id: props.document } }, body }))
      number = k.number
      emit('kept', k)
    },
    { done: () => t('writing.versionMade', { n: number }) },
  )
  if (did) {
    naming.value = false
    versionName.value = ''
  }
}
</script>

<template>
  <header v-show="place" class="top">
    <RouterLink v-if="place" class="go small" :to="`/d/${place.ref}`">
      ←
      <span class="no">{{ place.ref }}</span>
    </RouterLink>
    <h1 id="written-title">{{ title }}</h1>
    <p class="small state" :class="{ 't-caution': caution }" role="status">{{ state }}</p>
    <a v-if="supersede" class="btn btn-plain btn-small" href="?supersede=approved">{{ t('writing.supersede') }}</a>
    <slot></slot>
    <button v-if="place && typeset" type="button" class="btn btn-plain btn-small" data-paper :disabled="busy" @click="asPaper">
      {{ t('writing.paper') }}
    </button>
    <div v-if="writes" class="acts">
      <form v-if="naming" class="acts" @submit.prevent="keep" @keydown.esc.stop="naming = false">
        <input
          ref="nameField"
          v-model="versionName"
          class="form-control form-control-sm"
          maxlength="200"
          :aria-label="t('writing.versionName')"
          :placeholder="t('writing.versionName')"
        />
        <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('writing.keep') }}</button>
        <button type="button" class="btn btn-text btn-small" @click="naming = false">{{ t('common.discard') }}</button>
        <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
      </form>
      <button v-else type="button" class="btn btn-plain btn-small" @click="openNaming">{{ t('writing.nameVersion') }}</button>
    </div>
  </header>
</template>

<style scoped>
.top {
  grid-row: 1;
  display: flex;
  align-items: center;
  gap: var(--tb-s4);
  min-height: 48px;
  padding: 6px 24px;
}
.top h1 {
  font-size: var(--tb-write);
  margin: 0;
  min-width: 0;
  overflow-wrap: anywhere;
}
.state {
  margin: 0 0 0 auto;
}
@media (max-width: 900px) {
  .top {
    flex-wrap: wrap;
    gap: 4px 12px;
    padding: 6px 16px;
  }
}
</style>
