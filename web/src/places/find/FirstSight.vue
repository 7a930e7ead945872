<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, ref, toRef, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { stemOf } from '../../i18n/words'

/** The page of an answer on which it stands, beside the answers. */
const props = defineProps<{ hit: Schemas['FoundHit']; words: string }>()
const { t } = useI18n()
/** A moment later, as one passes over some on the way to another. */
const still = refDebounced(toRef(props, 'hit'), 180)
const page = computed(() => still.value.page ?? 1)
const source = computed(() => `/api/documents/${still.value.place.id}/pages/${page.value}?width=1100&version=${still.value.version}`)
const without = ref(false)
watch(source, () => (without.value = false))
const there = computed(() => ({
  path: `/d/${still.value.place.ref}`,
  query: { look: '1', q: props.words, page: still.value.page, version: still.value.counts ? undefined : still.value.version },
}))
</script>

<template>
  <aside :aria-label="t('find.sight')">
    <RouterLink v-if="!without" :to="there" tabindex="-1">
      <img :key="source" :src="source" :alt="t('find.sightOf', { name: stemOf(still.place.name), n: page })" @error="without = true" />
    </RouterLink>
    <p v-else class="quiet small">{{ t('find.noSight') }}</p>
    <p class="small quiet">
      <span class="no">{{ still.place.ref }}</span>
      {{ t('find.page', { n: page }) }}
    </p>
  </aside>
</template>

<style scoped>
img {
  display: block;
  width: 100%;
  border: 1px solid var(--tb-rule);
  background: var(--tb-sheet);
}
</style>
