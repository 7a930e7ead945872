<script setup lang="ts">
import { defineAsyncComponent, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, Refusal, type Schemas } from '../api/client'
import { stemOf } from '../i18n/words'
import Over from '../parts/Over.vue'
import { isText } from '../parts/writing/kinds'
import { visitorsWays } from '../parts/writing/ways'
import { placeOf } from './router'
import { useThisVisit } from './visit'
import { say } from './words'
import { problemOf } from './writing'

const WriteLeaf = defineAsyncComponent(() => import('./WriteLeaf.vue'))
const WriteTable = defineAsyncComponent(() => import('./WriteTable.vue'))

/** A visitor writes a text or table with those who gave it: by what name is asked first, where the link knows none. */
const props = defineProps<{ file: Schemas['LinkFile']; folder?: string }>()
const { token, failed, front } = useThisVisit()
const router = useRouter()
const ways = visitorsWays(token, props.file.id)
const page = crypto.randomUUID()
const me = ref('')
const asksName = ref(false)
const name = ref('')
const wrong = ref('')

/** Says what was refused here; what concerns the link is said by its page. */
async function trying(act: () => Promise<void>) {
  wrong.value = ''
  try {
    await act()
  } catch (e) {
    const said = e instanceof Refusal ? problemOf(e.code) : undefined
    if (e instanceof Refusal && e.code === 'name-wanted' && !asksName.value) asksName.value = true
    else if (said) wrong.value = said
    else failed(e)
  }
}
const begin = () =>
  trying(async () => {
    const m = await ways.open({ page, since: 0 })
    me.value = m.opening?.me ?? ''
    asksName.value = false
  })
const call = () =>
  trying(async () => {
    await api.POST('/visits/{token}/name', { params: { path: { token } }, body: { name: name.value } })
    await begin()
  })
function close() {
  if (router.options.history.state.back === placeOf(token, props.folder)) router.back()
  else void router.replace(placeOf(token, props.folder))
}
void begin()
</script>

<template>
  <Over :label="file.name" class="view" @close="close">
    <component
      :is="isText(file.mediaType) ? WriteLeaf : WriteTable"
      v-if="me"
      :me="me"
      :page="page"
      :ways="ways"
      :file="file"
      @close="close"
    />
    <template v-else>
      <header role="presentation">
        <h2>{{ stemOf(file.name) }}</h2>
        <button type="button" class="btn btn-plain" @click="close">{{ say('close') }}</button>
      </header>
      <form v-if="asksName" class="asks" @submit.prevent="call">
        <label class="terms" for="my-name">{{ say('writeName', { sender: front?.sender ?? '' }) }}</label>
        <input id="my-name" v-model="name" class="form-control" maxlength="80" autocomplete="name" autofocus required />
        <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
        <button type="submit" class="btn btn-primary big">{{ say('writeBegin') }}</button>
      </form>
      <p v-else-if="wrong" class="asks wrong" role="alert">{{ wrong }}</p>
      <p v-else class="asks quiet">{{ say('loading') }}</p>
    </template>
  </Over>
</template>

<style scoped>
.asks {
  display: grid;
  gap: 12px;
  justify-items: start;
  align-content: start;
  max-width: 520px;
  padding: 24px;
}
</style>
