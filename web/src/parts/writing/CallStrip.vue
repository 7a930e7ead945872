<script setup lang="ts">
import { ref, watch } from 'vue'
import type { Call } from './call'
import { useVoice } from './voice'

/** The call beside what is written: who is in it, what is seen of them, and what is heard and seen of oneself. */
const props = defineProps<{ call: Call; list: (names: string[]) => string }>()
const { t } = useVoice()
const named = (name: string, muted: boolean, connecting = false) =>
  connecting ? `${name}, ${t('writing.call.connecting')}` : muted ? `${name}, ${t('writing.call.muted')}` : name
const letter = (name: string) => [...name][0] ?? '?'
/** Who came and who left is said to those who do not see it. */
const heard = ref('')
watch(
  () => props.call.others.value.map((p) => p.name),
  (now, before) => {
    if (!props.call.inIt.value) return
    const came = now.filter((n) => !before.includes(n))
    const left = before.filter((n) => !now.includes(n))
    if (came.length) heard.value = t('writing.call.joined', { names: props.list(came) })
    else if (left.length) heard.value = t('writing.call.gone', { names: props.list(left) })
  },
)
</script>

<template>
  <section v-if="call.inIt.value || call.others.value.length || call.wrong.value" class="call" :aria-label="t('writing.call.title')">
    <ul v-if="call.inIt.value" class="faces">
      <li class="face">
        <video v-show="call.camera.value" :srcObject="call.own.value" autoplay muted playsinline></video>
        <span v-if="!call.camera.value" class="letter" aria-hidden="true">{{ letter(call.called.value) }}</span>
        <span class="small">{{ named(t('writing.call.you'), !call.mic.value) }}</span>
      </li>
      <li v-for="v in call.voices.value" :key="v.page" class="face" :data-stands="v.stands">
        <video v-show="v.camera" :srcObject="v.stream" autoplay playsinline></video>
        <span v-if="!v.camera" class="letter" aria-hidden="true">{{ letter(v.name) }}</span>
        <span class="small">{{ named(v.name, !v.mic, v.stands === 'connecting') }}</span>
      </li>
    </ul>
    <p v-else-if="call.others.value.length" class="small said">
      {{ t('writing.call.inIt', { names: list(call.others.value.map((p) => p.name)) }) }}
    </p>
    <p v-if="call.wrong.value" class="small said t-caution" role="alert">{{ t(`writing.call.${call.wrong.value}`) }}</p>
    <div class="acts">
      <template v-if="call.inIt.value">
        <button type="button" class="btn btn-plain btn-small" :aria-pressed="!call.mic.value" @click="call.mute(call.mic.value)">
          {{ t(call.mic.value ? 'writing.call.mute' : 'writing.call.unmute') }}
        </button>
        <button type="button" class="btn btn-plain btn-small" :aria-pressed="call.camera.value" @click="call.show(!call.camera.value)">
          {{ t(call.camera.value ? 'writing.call.noCamera' : 'writing.call.camera') }}
        </button>
        <button type="button" class="btn btn-primary btn-small" @click="call.leave()">{{ t('writing.call.leave') }}</button>
      </template>
      <button v-else-if="call.can.value && call.others.value.length" type="button" class="btn btn-primary btn-small" @click="call.join()">
        {{ t('writing.call.join') }}
      </button>
    </div>
    <p class="visually-hidden" aria-live="polite">{{ heard }}</p>
  </section>
</template>

<style scoped>
.call {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 8px var(--tb-s4);
  padding: 8px 24px;
  background: var(--tb-sheet);
  border-bottom: 1px solid var(--tb-rule);
}
.faces {
  display: flex;
  flex-wrap: wrap;
  align-items: end;
  gap: 8px 16px;
  list-style: none;
  margin: 0;
  padding: 0;
}
.face {
  display: grid;
  gap: 2px;
}
.face video,
.letter {
  width: 120px;
  height: 90px;
  border: 1px solid var(--tb-edge);
  border-radius: 2px;
  object-fit: cover;
  background: var(--tb-paper);
}
.letter {
  display: grid;
  place-items: center;
  width: 64px;
  height: 48px;
  color: var(--tb-paper-ink);
  font-weight: 650;
}
.said {
  margin: 0;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
@media (max-width: 900px) {
  .call {
    padding: 8px 16px;
  }
  .face video {
    width: 96px;
    height: 72px;
  }
}
</style>
