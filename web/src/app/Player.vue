<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconNext from '~icons/ph/caret-right'
import IconPrevious from '~icons/ph/caret-left'
import IconX from '~icons/ph/x'
import { stemOf } from '../i18n/words'
import { usePlayer } from './player'

/** What is being listened to, below everything else; it goes on while one goes elsewhere. */
const { t } = useI18n()
const { queue, at, stop } = usePlayer()
const now = computed(() => queue.value[at.value])
const failed = ref(false)
const sounding = ref<HTMLMediaElement>()
watch(now, async () => {
  failed.value = false
  await nextTick()
  // A browser that does not let it begin by itself shows its own button.
  await sounding.value?.play().catch(() => undefined)
})
function ended() {
  if (at.value < queue.value.length - 1) at.value++
}
</script>

<template>
  <section v-if="now" class="player" :aria-label="t('player.label')">
    <div class="line">
      <span class="no quiet">{{ now.no }}</span>
      <b :title="now.name">{{ stemOf(now.name) }}</b>
      <span v-if="queue.length > 1" class="small quiet nb">{{ t('player.of', { n: at + 1, of: queue.length }) }}</span>
      <button v-if="queue.length > 1" type="button" :disabled="at === 0" :aria-label="t('player.previous')" @click="at--">
        <IconPrevious aria-hidden="true" />
      </button>
      <button v-if="queue.length > 1" type="button" :disabled="at === queue.length - 1" :aria-label="t('player.next')" @click="at++">
        <IconNext aria-hidden="true" />
      </button>
      <button type="button" :aria-label="t('player.stop')" @click="stop"><IconX aria-hidden="true" /></button>
    </div>
    <p v-if="failed" class="t-caution small" role="alert">{{ t('player.failed') }}</p>
    <component
      :is="now.video ? 'video' : 'audio'"
      ref="sounding"
      :key="now.id"
      :src="`/api/documents/${now.id}/content`"
      :aria-label="now.name"
      controls
      @ended="ended"
      @error="failed = true"
    />
  </section>
</template>

<style scoped>
.player {
  position: fixed;
  right: 20px;
  bottom: 20px;
  z-index: var(--tb-layer-tray);
  width: min(360px, calc(100vw - 40px));
  padding: var(--tb-s2) var(--tb-s3);
  background: var(--tb-sheet);
  border: 1px solid var(--tb-rule);
  border-top: 2px solid var(--tb-ink);
  box-shadow: 0 6px 20px var(--tb-shade);
}
.line {
  display: flex;
  align-items: center;
  gap: var(--tb-s2);
}
b {
  flex: 1;
  min-width: 0;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
button {
  min-width: 28px;
  min-height: 28px;
}
button:disabled {
  color: var(--tb-rule);
}
audio,
video {
  display: block;
  width: 100%;
  max-height: 40vh;
}
@media (max-width: 900px) {
  .player {
    bottom: 70px;
  }
}
@media print {
  .player {
    display: none;
  }
}
</style>
