<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, ref } from 'vue'
import IconDownload from '~icons/ph/download-simple'
import IconEye from '~icons/ph/eye'
import type { Schemas } from '../api/client'
import { sizeWords } from '../i18n/words'
import SentRow from './SentRow.vue'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** The files of a transfer: those that are here, and those that are still arriving and can be begun. */
const props = defineProps<{ sent: Schemas['VisitedTransfer'] }>()
const { token, base, front, enter, takesFetching } = useThisVisit()
const size = (n: number) => sizeWords(n, language.value)
const here = computed(() => props.sent.files.filter((f) => f.document).length)
const all = computed(() => here.value === props.sent.files.length)
/** It is being fetched already. */
const fetching = ref(false)
onMounted(() => {
  const [first, ...more] = props.sent.files
  if (!takesFetching() || props.sent.viewOnly || !first) return
  const address = more.length ? (all.value ? `${base}/files` : '') : first.fetchable ? `${base}/files/${first.id}` : ''
  if (!address) return
  fetching.value = true
  const link = document.createElement('a')
  link.href = address
  link.download = ''
  link.click()
})
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
  <p v-if="fetching" class="small" role="status">{{ say('sentFetching') }}</p>
  <ul>
    <SentRow v-for="f in sent.files" :key="f.id" :file="f" :name="f.name" :size="f.size">
      <div v-if="f.document" class="small quiet sha">
        SHA-256
        <span class="no">{{ f.document.sha256.slice(0, 8) }}…{{ f.document.sha256.slice(-8) }}</span>
      </div>
      <template #acts>
        <RouterLink v-if="f.document && f.document.look !== 'none'" class="btn btn-plain" :to="`/${token}/look/${f.document.id}`">
          <IconEye aria-hidden="true" />
          {{ say('view') }}
        </RouterLink>
        <a v-if="f.fetchable" class="btn" :class="f.document ? 'btn-plain' : 'btn-primary'" :href="`${base}/files/${f.id}`" download>
          <IconDownload aria-hidden="true" />
          {{ say(f.document ? 'download' : 'sentBegin') }}
        </a>
      </template>
    </SentRow>
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
