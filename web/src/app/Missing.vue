<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../api/client'
import { useSaid } from '../sentences/said'
import { useSession } from './session'

/** What may not be seen looks like what does not exist. Colleagues may ask to be let in, without learning which it is. */
const props = defineProps<{ item?: string }>()
const { t } = useI18n()
const store = useSession()
const message = ref('')
const asked = ref(false)
const wrong = ref('')
const said = useSaid()

async function ask() {
  try {
    await api.POST('/items/{id}/request', { params: { path: { id: props.item! } }, body: { message: message.value || undefined } })
    asked.value = true
  } catch (e) {
    wrong.value = said.problem(e)
  }
}
</script>

<template>
  <main id="content" class="plain">
    <div class="empty" style="padding-left: 0">
      <h1>{{ t('dossier.missing') }}</h1>
      <p>{{ t('dossier.missingText') }}</p>
      <form v-if="item && store.session?.standing !== 'guest'" class="ask" @submit.prevent="ask">
        <p v-if="asked" role="status">{{ t('access.asked') }}</p>
        <template v-else>
          <label for="ask-words">{{ t('access.askHint') }}</label>
          <textarea id="ask-words" v-model="message" class="form-control" rows="2" maxlength="5000"></textarea>
          <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
          <button type="submit" class="btn btn-primary">{{ t('access.ask') }}</button>
        </template>
      </form>
      <p v-if="store.practice?.helper" class="small quiet">{{ t('help.helper', { helper: store.practice.helper }) }}</p>
      <RouterLink class="btn btn-plain" to="/dossiers">{{ t('dossier.toDossiers') }}</RouterLink>
    </div>
  </main>
</template>

<style scoped>
.ask {
  display: grid;
  gap: var(--tb-s2);
  justify-items: start;
  margin-bottom: var(--tb-s4);
}
</style>
