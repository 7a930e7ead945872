<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed } from 'vue'
import IconDownload from '~icons/ph/download-simple'
import IconEye from '~icons/ph/eye'
import type { Schemas } from '../api/client'
import { sizeWords, stemOf } from '../i18n/words'
import Bar from '../parts/Bar.vue'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** The files of a transfer: those that are here, and those that are still arriving and can be begun. */
const props = defineProps<{ sent: Schemas['VisitedTransfer'] }>()
const { token, base, front, enter } = useThisVisit()
const size = (n: number) => sizeWords(n, language.value)
const here = computed(() => props.sent.files.filter((f) => f.document).length)
const all = computed(() => here.value === props.sent.files.length)
const percent = (f: Schemas['VisitedFile']) => (f.size ? Math.floor((f.received / f.size) * 100) : 0)
// While something arrives it is asked again how much is here.
useIntervalFn(() => !all.value && void enter(), 2000)
</script>

<template>
  <header>
    <h2>{{ all ? say('sentAll', { n: sent.files.length }) : say('sentHere', { n: here, all: sent.files.length }) }}</h2>
    <span class="quiet small">
      {{ all ? say('together', { size: size(sent.bytes) }) : say('sentRest', { here: size(sent.received), size: size(sent.bytes) }) }}
    </span>
  </header>
  <ul>
    <li v-for="f in sent.files" :key="f.id" :data-file="f.name">
      <span class="mark" :class="{ here: f.document }" aria-hidden="true">{{ f.document ? '✓' : '' }}</span>
      <div>
        <h3>{{ stemOf(f.name) }}</h3>
        <div class="small">{{ f.name.includes('.') ? `${f.name.split('.').pop()}, ` : '' }}{{ size(f.size) }}</div>
        <div v-if="f.document" class="small quiet sha">
          SHA-256
          <span class="no">{{ f.document.sha256.slice(0, 8) }}…{{ f.document.sha256.slice(-8) }}</span>
        </div>
        <template v-else-if="f.received">
          <Bar :percent="percent(f)" :label="f.name" />
          <div class="small quiet">{{ say(f.fetchable ? 'sentComes' : 'sentLater', { percent: percent(f) }) }}</div>
        </template>
        <div v-else class="small quiet">{{ say('sentWhen') }}</div>
      </div>
      <span class="acts">
        <RouterLink v-if="f.document && f.document.look !== 'none'" class="btn btn-plain" :to="`/${token}/look/${f.document.id}`">
          <IconEye aria-hidden="true" />
          {{ say('view') }}
        </RouterLink>
        <a v-if="f.fetchable" class="btn" :class="f.document ? 'btn-plain' : 'btn-primary'" :href="`${base}/files/${f.id}`" download>
          <IconDownload aria-hidden="true" />
          {{ say(f.document ? 'download' : 'sentBegin') }}
        </a>
      </span>
    </li>
  </ul>
  <p v-if="sent.keptBack" class="small quiet kept-back">
    {{ say(sent.keptBack === 1 ? 'oneKeptBack' : 'keptBack', { n: sent.keptBack, practice: front?.practice ?? '' }) }}
  </p>
  <p v-if="sent.viewOnly" class="quiet">{{ say('marked') }}</p>
  <footer v-else-if="sent.files.length > 1">
    <a v-if="all" class="btn btn-primary big" :href="`${base}/files`" download>
      <IconDownload aria-hidden="true" />
      {{ say('all', { size: size(sent.bytes) }) }}
    </a>
    <p class="small quiet">{{ say(all ? 'asArchive' : 'sentOnce') }}</p>
  </footer>
</template>

<style scoped>
ul li[data-file] {
  grid-template-columns: 24px minmax(0, 1fr) auto;
}
.mark {
  width: 24px;
  height: 24px;
  border: 1px dashed var(--tb-edge);
  text-align: center;
  line-height: 22px;
}
.mark.here {
  border: 0;
  background: var(--tb-done);
  color: var(--tb-sheet);
}
</style>
