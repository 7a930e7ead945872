<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, shallowRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import HelpPanel from '../help/HelpPanel.vue'
import type { HelpTopic } from '../help/topics'
import { isCommand, isTyping } from '../parts/keys'
import { helpOpen } from './help'
import { useSession } from './session'

/** Help for the place where one is, fetched when it is asked for. */
const { t, locale } = useI18n()
const route = useRoute()
const store = useSession()
const topics = shallowRef<HelpTopic[]>([])
const place = computed(() => (route.meta.place as string | undefined) ?? (route.path === '/me' ? 'me' : undefined))
watch(
  [helpOpen, locale],
  async () => {
    if (helpOpen.value) topics.value = (await (locale.value === 'de' ? import('../help/de') : import('../help/en'))).default
  },
  { immediate: true },
)
useEventListener('keydown', (e) => {
  if (e.key !== '?' || isTyping(e) || isCommand(e)) return
  e.preventDefault()
  helpOpen.value = true
})
</script>

<template>
  <HelpPanel
    v-if="helpOpen && topics.length"
    :topics="topics"
    :place="place"
    :helper="store.practice?.helper ? t('help.helper', { helper: store.practice.helper }) : t('help.askAround')"
    :words="{
      title: t('help.title'),
      find: t('help.find'),
      none: t('help.none'),
      close: t('common.close'),
      keys: t('help.keys'),
      key: t('help.key'),
    }"
    @close="helpOpen = false"
  />
</template>
