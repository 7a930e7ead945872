<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import HandOut from '../links/HandOut.vue'
import GiveAccess from './GiveAccess.vue'

/** One entry for all ways of giving out: by a link, or to people. */
const props = defineProps<{ items: string[]; folder: boolean; manager: boolean; people?: boolean; asks?: boolean }>()
defineEmits<{ close: [] }>()
const { t } = useI18n()
const way = ref<'link' | 'people'>(props.people ? 'people' : 'link')
</script>

<template>
  <HandOut v-if="way === 'link'" :items="items" :kind="asks ? 'intake' : undefined" @close="$emit('close')">
    <button type="button" class="go small" @click="way = 'people'">{{ t('access.toPeople') }}</button>
  </HandOut>
  <GiveAccess v-else :items="items" :folder="folder" :manager="manager" @close="$emit('close')">
    <button type="button" class="go small" @click="way = 'link'">{{ t('access.byLink') }}</button>
  </GiveAccess>
</template>
