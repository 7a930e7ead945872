<script setup lang="ts">
import { computed, defineAsyncComponent, ref, watch } from 'vue'
import IconDownload from '~icons/ph/download-simple'
import type { Schemas } from '../api/client'
import { sizeWords } from '../i18n/words'
import { kindOf } from './kinds'
import PaperRow from './PaperRow.vue'
import { placeOf } from './router'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** The papers a link gives, in a folder of it, and how to take them along. */
const props = defineProps<{ given: Schemas['LinkContents']; folder?: string }>()
const AddPapers = defineAsyncComponent(() => import('./AddPapers.vue'))
const { token, base, front, wrong, enter } = useThisVisit()
const size = (n: number) => sizeWords(n, language.value)
/** What was chosen to be downloaded together. */
const chosen = ref<string[]>([])
watch(
  () => props.folder,
  () => (chosen.value = []),
)
/** Many pictures are laid out as a contact sheet. */
const pictures = computed(() => props.given.files.length >= 4 && props.given.files.every((f) => kindOf(f) === 'picture'))
const chosenBytes = computed(() => props.given.files.filter((f) => chosen.value.includes(f.id)).reduce((sum, f) => sum + f.size, 0))
/** What the main act downloads: what was chosen, or all. */
const take = computed(() => {
  const { count: n, bytes, files } = props.given
  if (chosen.value.length)
    return {
      href: `${base}/archive?${chosen.value.map((id) => `item=${id}`).join('&')}`,
      words: say(chosen.value.length === 1 ? 'chosenOne' : 'chosenMany', { n: chosen.value.length, size: size(chosenBytes.value) }),
    }
  const inHand = files.filter((f) => f.inHand).length
  if (inHand) return inHand < n ? { href: `${base}/archive`, words: say('rest') } : undefined
  return {
    href: n === 1 && files[0] ? `${base}/documents/${files[0].id}/content?download` : `${base}/archive`,
    words: say(n === 1 ? 'one' : n === 2 ? 'both' : 'all', { size: size(bytes) }),
  }
})
</script>

<template>
  <nav v-if="given.way.length > 1" class="way">
    <template v-for="(f, i) in given.way" :key="f.id">
      <RouterLink v-if="i < given.way.length - 1" :to="placeOf(token, i ? f.id : undefined)">{{ f.name }}</RouterLink>
      <b v-else>{{ f.name }}</b>
      <template v-if="i < given.way.length - 1">/</template>
    </template>
  </nav>
  <header>
    <h2>{{ say('enclosed', { n: given.count === 1 ? say('file') : say('files', { n: given.count }) }) }}</h2>
    <span class="quiet small">{{ say('together', { size: size(given.bytes) }) }}</span>
  </header>
  <ul :class="{ contact: pictures }">
    <li v-for="f in given.folders" :key="f.id" class="folder">
      <h3>{{ f.name }}</h3>
      <span class="acts">
        <RouterLink class="btn btn-plain" :to="placeOf(token, f.id)">{{ say('openFolder') }}</RouterLink>
      </span>
    </li>
    <PaperRow
      v-for="f in given.files"
      :key="f.id"
      v-model:chosen="chosen"
      :file="f"
      :folder="folder"
      :view-only="!!given.viewOnly"
      :may-add="given.mayAdd"
      :choosing="!given.viewOnly && given.files.length > 2"
    />
  </ul>
  <p v-if="wrong" class="wrong" role="alert">{{ wrong }}</p>
  <p v-if="!given.files.length && !given.folders.length" class="quiet">{{ say('empty') }}</p>
  <AddPapers v-if="given.mayAdd" :key="folder" :token="token" :folder="given.way.at(-1)?.id" @arrived="enter()" />
  <p v-if="given.keptBack" class="small quiet kept-back">
    {{ say(given.keptBack === 1 ? 'oneKeptBack' : 'keptBack', { n: given.keptBack, practice: front?.practice ?? '' }) }}
  </p>
  <p v-if="given.viewOnly && given.count" class="quiet">{{ say('marked') }}</p>
  <footer v-else-if="given.count">
    <a v-if="take" class="btn btn-primary big" :href="take.href" download>
      <IconDownload aria-hidden="true" />
      {{ take.words }}
    </a>
    <p class="small quiet">
      <template v-if="take && given.count > 1">{{ say('asArchive') }}</template>
      {{ ' ' }}
      <template v-if="given.newest">{{ say('newest') }}</template>
    </p>
  </footer>
</template>
