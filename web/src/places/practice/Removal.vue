<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { useSession } from '../../app/session'
import { useSaid } from '../../sentences/said'

/** Removing the practice, and taking that back, by its proprietor. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const { act, wrong } = useAct()
const removing = ref(false)
const name = ref('')
const password = ref('')
async function remove() {
  const wish = { name: name.value, password: password.value }
  if (await act(() => api.POST('/practice/removal', { body: wish }), { done: t('practice.removalSet') })) {
    removing.value = false
    await store.refresh()
  }
  password.value = ''
}
async function keep() {
  await act(() => api.DELETE('/practice/removal'), { done: t('practice.kept') })
  await store.refresh()
}
</script>

<template>
  <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  <template v-if="store.practice?.removalAt">
    <p class="terms">
      <b class="t-caution">{{ t('practice.removalAt', { when: said.full(store.practice.removalAt) }) }}</b>
    </p>
    <button type="button" class="btn btn-primary btn-small" @click="keep">{{ t('practice.keep') }}</button>
  </template>
  <form v-else-if="removing" class="written" @submit.prevent="remove">
    <p class="terms">{{ t('practice.removalSentence', { name: store.practice?.name }) }}</p>
    <label for="removal-name">{{ t('practice.removalName') }}</label>
    <input id="removal-name" v-model="name" class="form-control" required autofocus />
    <label for="removal-password">{{ t('me.old') }}</label>
    <input id="removal-password" v-model="password" class="form-control" type="password" autocomplete="current-password" required />
    <div class="acts">
      <button type="submit" class="btn btn-primary btn-small">{{ t('practice.remove') }}</button>
      <button type="button" class="btn btn-text btn-small" @click="removing = false">{{ t('common.discard') }}</button>
    </div>
  </form>
  <template v-else>
    <p class="small quiet">{{ t('practice.removalHint') }}</p>
    <button type="button" class="btn btn-plain btn-small" @click="removing = true">{{ t('practice.removeMore') }}</button>
  </template>
</template>

<style scoped>
.written {
  display: grid;
  gap: 6px;
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: 12px 14px;
}
.form-control {
  max-width: 340px;
}
</style>
