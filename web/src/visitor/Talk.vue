<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { api, data, Refusal, type Schemas } from '../api/client'
import { momentWords } from '../i18n/words'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** What was said about a document through this link, and what one says oneself. */
const props = defineProps<{ document: string }>()
const { token, failed } = useThisVisit()
const path = { params: { path: { token, id: props.document } } }
const threads = ref<Schemas['HeardThread'][]>()
const text = ref('')
const answering = ref<string>()
const busy = ref(false)
const wrong = ref('')

async function read() {
  try {
    threads.value = await data(api.GET('/visits/{token}/documents/{id}/remarks', path))
  } catch (e) {
    failed(e)
  }
}
onMounted(read)
async function send() {
  if (busy.value || !text.value.trim()) return
  busy.value = true
  wrong.value = ''
  try {
    await api.POST('/visits/{token}/documents/{id}/remarks', { ...path, body: { text: text.value, thread: answering.value } })
    text.value = ''
    answering.value = undefined
    await read()
  } catch (e) {
    const why = e instanceof Refusal ? ({ 'remarks-many': 'talkMany', 'remark-long': 'talkLong' } as const)[e.code] : undefined
    if (why) wrong.value = say(why)
    else failed(e)
  } finally {
    busy.value = false
  }
}
const who = (r: Schemas['HeardRemark']) => (r.mine ? say('talkYou') : r.by || say('talkOther'))
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
const when = (at: string) => momentWords(new Date(at), new Date(), language.value, zone)
</script>

<template>
  <aside class="said" :aria-label="say('talk')">
    <h3>{{ say('talk') }}</h3>
    <form @submit.prevent="send">
      <label for="say" class="small">{{ answering ? say('talkAnswer') : say('talkHint') }}</label>
      <textarea id="say" v-model="text" class="form-control" rows="3" maxlength="10000"></textarea>
      <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
      <div class="acts">
        <button class="btn btn-primary" :disabled="busy || !text.trim()">{{ say('talkSay') }}</button>
        <button v-if="answering" type="button" class="btn btn-text" @click="answering = undefined">{{ say('cancel') }}</button>
      </div>
    </form>
    <p v-if="threads && !threads.length" class="quiet small">{{ say('talkNone') }}</p>
    <ol>
      <li v-for="th in threads" :key="th.id">
        <article v-for="r in th.remarks" :key="r.id">
          <p class="small">
            <b>{{ who(r) }}</b>
            {{ ' ' }}
            <time class="quiet" :datetime="r.at">{{ when(r.at) }}</time>
          </p>
          <p class="text terms" :class="{ quiet: r.removed }">{{ r.removed ? say('talkRemoved') : r.text }}</p>
        </article>
        <p v-if="th.resolved" class="quiet small">{{ say('talkSettled') }}</p>
        <button type="button" class="go small" @click="answering = th.id">{{ say('talkReply') }}</button>
      </li>
    </ol>
  </aside>
</template>

<style scoped>
.said {
  overflow-y: auto;
  padding: var(--tb-s3);
  border-left: 1px solid var(--tb-line);
  background: var(--tb-page);
}
form {
  display: grid;
  gap: 6px;
}
li {
  padding: var(--tb-s3) 0;
  border-top: 1px solid var(--tb-line);
}
ol {
  margin-top: var(--tb-s3);
}
.text {
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
</style>
