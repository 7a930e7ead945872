<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { onMounted, provide, ref, useTemplateRef } from 'vue'
import { Refusal, type Schemas } from '../api/client'
import { stemOf } from '../i18n/words'
import { useCall } from '../parts/writing/call'
import CallStrip from '../parts/writing/CallStrip.vue'
import CallVerb from '../parts/writing/CallVerb.vue'
import { word } from '../parts/writing/kinds'
import LookBar from '../parts/writing/LookBar.vue'
import Lost from '../parts/writing/Lost.vue'
import Margin from '../parts/writing/Margin.vue'
import PensHere from '../parts/writing/PensHere.vue'
import { putPicture } from '../parts/writing/pictures'
import { useRoom } from '../parts/writing/room'
import { useText } from '../parts/writing/text'
import { voiceKey } from '../parts/writing/voice'
import type { Ways } from '../parts/writing/ways'
import { say } from './words'
import { useWritten } from './written'
import WriteHead from './WriteHead.vue'
import { problemOf, voice } from './writing'

/** A text that a visitor writes with others: who is here, the text, and what is proposed in it. */
const props = defineProps<{ me: string; page: string; ways: Ways; file: Schemas['LinkFile'] }>()
const emit = defineEmits<{ close: [] }>()
provide(voiceKey, voice)
const { t } = voice
const paper = useTemplateRef<HTMLElement>('paper')
const heard = ref('')
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
const { wrong, state, nameOf } = useWritten(text)
const { places, following, picked, current, decide, byKey } = useRoom(text, t)
useEventListener('keydown', byKey)
</script>

<template>
  <div class="room" :class="{ margin: text.proposals.value.length > 0 }">
    <WriteHead :title="stemOf(file.name)" :state="state" @close="emit('close')" />
    <section class="here" :aria-label="t('writing.whoIsHere')">
      <PensHere v-model:following="following" :pens="text.pens.value" :me="me" :places="places" />
      <CallVerb :call="call" />
    </section>
    <div>
      <CallStrip :call="call" :list="voice.list" />
      <Lost v-model="text.lost.value" />
    </div>
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
