<script setup lang="ts">
import IconDownload from '~icons/ph/download-simple'
import IconEye from '~icons/ph/eye'
import IconPen from '~icons/ph/pencil-simple'
import type { Schemas } from '../api/client'
import { fullMoment, momentWords, sizeWords, stemOf } from '../i18n/words'
import { isWritten } from '../parts/writing/kinds'
import { kindOf } from './kinds'
import Thumb from './Thumb.vue'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** One of the papers that are enclosed. */
defineProps<{ file: Schemas['LinkFile']; folder?: string; viewOnly: boolean; mayAdd?: boolean; choosing: boolean }>()
const chosen = defineModel<string[]>('chosen', { required: true })
const { token, base } = useThisVisit()
const zone = Intl.DateTimeFormat().resolvedOptions().timeZone
const when = (at: string) => momentWords(new Date(at), new Date(), language.value, zone)
</script>

<template>
  <li :data-file="file.name">
    <Thumb :file="file" :pages="`${base}/documents/${file.id}/pages`" />
    <div>
      <label v-if="choosing && !file.inHand" class="pick">
        <input v-model="chosen" type="checkbox" class="form-check-input" :value="file.id" :aria-label="say('pick', { name: file.name })" />
      </label>
      <div class="no quiet">{{ file.ref }}</div>
      <h3>{{ stemOf(file.name) }}</h3>
      <div class="small">{{ say(kindOf(file)) }}, {{ sizeWords(file.size, language) }}</div>
      <div class="small quiet" :title="fullMoment(new Date(file.at), language, zone)">
        {{ say('version', { n: file.version, when: when(file.at) }) }}
      </div>
      <div v-if="file.inHand" class="small in-hand">{{ say('inHand') }}</div>
      <div class="small quiet sha">
        SHA-256
        <span class="no">{{ file.sha256.slice(0, 8) }}…{{ file.sha256.slice(-8) }}</span>
      </div>
    </div>
    <span class="acts">
      <RouterLink
        v-if="mayAdd && !file.inHand && isWritten(file.mediaType)"
        class="btn btn-plain"
        :to="{ path: `/${token}/write/${file.id}`, query: { in: folder } }"
      >
        <IconPen aria-hidden="true" />
        {{ say('write') }}
      </RouterLink>
      <RouterLink v-if="file.look !== 'none'" class="btn btn-plain" :to="{ path: `/${token}/look/${file.id}`, query: { in: folder } }">
        <IconEye aria-hidden="true" />
        {{ say('view') }}
      </RouterLink>
      <a v-if="!viewOnly && !file.inHand" class="btn btn-plain" :href="`${base}/documents/${file.id}/content?download`" download>
        <IconDownload aria-hidden="true" />
        {{ say('download') }}
      </a>
    </span>
  </li>
</template>
