<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, provide, ref, useTemplateRef, watch } from 'vue'
import { Refusal, type Schemas } from '../api/client'
import { stemOf } from '../i18n/words'
import { useCall } from '../parts/writing/call'
import CallStrip from '../parts/writing/CallStrip.vue'
import CallVerb from '../parts/writing/CallVerb.vue'
import { word } from '../parts/writing/kinds'
import LookBar from '../parts/writing/LookBar.vue'
import Margin from '../parts/writing/Margin.vue'
import PensHere from '../parts/writing/PensHere.vue'
import { putPicture } from '../parts/writing/pictures'
import { useRoom } from '../parts/writing/room'
import { useText } from '../parts/writing/text'
import { voiceKey } from '../parts/writing/voice'
import type { Ways } from '../parts/writing/ways'
import { useThisVisit } from './visit'
import { say } from './words'
import { problemOf, voice } from './writing'

/** A text that a visitor writes with others: who is here, the text, and what is proposed in it. */
const props = defineProps<{ me: string; page: string; ways: Ways; file: Schemas['LinkFile'] }>()
const emit = defineEmits<{ close: [] }>()
provide(voiceKey, voice)
const { t } = voice
const { arrive } = useThisVisit()
const paper = useTemplateRef<HTMLElement>('paper')
const heard = ref('')
/** What was refused last, until something else happens. */
const wrong = ref('')
const isWord = props.file.mediaType === word
const text = useText(
  props.ways,
  props.me,
  {
    onlyText: () => (heard.value = t('writing.onlyText')),
    checked: (done) => t(done ? 'writing.taskDone' : 'writing.taskOpen'),
    // What lies beside a text of another kind is the folder's.
    brings: (file) =>
      isWord && props.ways.pictures
        ? putPicture(props.ways.pictures, file, true).catch(
            (e: unknown) => ((wrong.value = (e instanceof Refusal && problemOf(e.code)) || say('offline')), undefined),
          )
        : Promise.resolve(undefined),
    becameTable: () => emit('close'),
    keeps: (kind) => t(`writing.kept.is.${kind}`),
  },
  props.page,
)
const call = useCall(text)
onMounted(() => void text.open(paper.value!))
watch(text.refused, (code) => {
  if (code) wrong.value = problemOf(code) ?? say('offline')
  text.refused.value = ''
})
watch(text.changes, () => (wrong.value = ''))
// Where the link has ended its page says so.
watch(text.stands, (s) => s === 'ended' && void arrive())
const state = computed(() => {
  if (text.stands.value === 'ended') return problemOf(text.endedBy.value) ?? say('offline')
  if (wrong.value) return wrong.value
  if (text.stands.value === 'away') return t('writing.away')
  if (text.mode.value === 'look') return (text.opening.value?.barred && problemOf(text.opening.value.barred)) || t('writing.looking')
  return t(text.sent.value ? 'writing.allKept' : 'writing.sending')
})
const nameOf = (by: string) => text.names.value[by] ?? /^name:(.+)/.exec(by)?.[1] ?? say('writeSomebody')
const { places, following, picked, current, decide, byKey } = useRoom(text, t)
useEventListener('keydown', byKey)
</script>

<template>
  <div class="room" :class="{ margin: text.proposals.value.length > 0 }">
    <header role="presentation" class="written-head">
      <h2 id="written-title">{{ stemOf(file.name) }}</h2>
      <p class="small state" role="status">{{ state }}</p>
      <button type="button" class="btn btn-plain" @click="emit('close')">{{ say('close') }}</button>
    </header>
    <section class="here" :aria-label="t('writing.whoIsHere')">
      <PensHere v-model:following="following" :pens="text.pens.value" :me="me" :places="places" />
      <CallVerb :call="call" />
    </section>
    <CallStrip :call="call" :list="(names) => names.join(', ')" />
    <div class="desk">
      <div class="sheet-room">
        <article ref="paper" class="leaf"></article>
      </div>
      <Margin
        v-if="text.proposals.value.length"
        :proposals="text.proposals.value"
        :current="current?.id"
        :decides="text.mode.value === 'write'"
        :name-of="nameOf"
        :pens="text.pens.value"
        :me="me"
        :view="text.view()"
        :changes="text.changes.value"
        @decide="decide"
        @pick="picked = $event"
      />
    </div>
    <LookBar
      v-if="text.look.value && text.mode.value === 'write' && text.stands.value !== 'ended'"
      :view="text.view()!"
      :state="text.look.value"
      :plain="isWord"
      :pictures="isWord"
      @picture="text.bring($event)"
    />
    <p class="visually-hidden" aria-live="polite">{{ heard }}</p>
  </div>
</template>

<style scoped>
.room {
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  grid-template-rows: auto auto auto minmax(0, 1fr) auto;
  height: 100%;
  min-height: 0;
}
.written-head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px var(--tb-s4);
  min-height: 52px;
  padding: 8px 20px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-line);
}
.written-head h2 {
  font-size: var(--tb-write);
  margin: 0;
  overflow-wrap: anywhere;
}
.state {
  margin: 0 0 0 auto;
}
.here {
  display: flex;
  align-items: center;
  justify-content: space-between;
  padding: 8px 24px;
  border-bottom: 1px solid var(--tb-rule);
}
.desk {
  grid-row: 4;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  min-height: 0;
  overflow: auto;
  position: relative;
}
.margin .desk {
  grid-template-columns: minmax(0, 1fr) 320px;
}
@media (max-width: 900px) {
  .here {
    flex-wrap: wrap;
    padding: 6px 16px;
  }
  .margin .desk {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
<style src="../parts/writing/writing.css"></style>
