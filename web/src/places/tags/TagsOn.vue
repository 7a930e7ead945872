<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import IconX from '~icons/ph/x'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { useTagsOn, type Tag } from '../../queries/tags'
import TagField from './TagField.vue'
import TagName from './TagName.vue'

/** The tags of a document: each leads to all that bear it, and is taken off by one act. */
const props = defineProps<{ document: string; mayChange: boolean }>()
const { t } = useI18n()
const { data: tags } = useTagsOn(() => props.document)
const { act, busy } = useAct()
const take = (g: Tag) =>
  act(() => api.POST('/tagging', { body: { documents: [props.document], take: [g.id] } }), {
    done: t('tags.taken', { names: g.name }),
    undo: {
      do: () => api.POST('/tagging', { body: { documents: [props.document], put: [g.name], own: g.own } }),
      done: t('tags.put', { names: g.name, n: 1 }, 1),
    },
    aloud: true,
  })
</script>

<template>
  <ul v-if="tags?.length" class="on">
    <li v-for="g in tags" :key="g.id">
      <RouterLink :to="{ path: '/find', query: { tag: g.id } }">
        <TagName :name="g.name" :own="g.own" :mine="t('tags.mineAlone')" />
      </RouterLink>
      <button
        v-if="mayChange || g.own"
        type="button"
        class="quiet"
        :disabled="busy"
        :aria-label="t('tags.take', { name: g.name })"
        @click="take(g)"
      >
        <IconX class="i i-s" aria-hidden="true" />
      </button>
    </li>
  </ul>
  <TagField :key="document" :documents="[document]" :may-shared="mayChange" />
</template>

<style scoped>
.on {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s1) var(--tb-s2);
  padding-bottom: var(--tb-s2);
}
.on li {
  display: flex;
  align-items: center;
}
.on a {
  color: inherit;
}
.on button {
  display: grid;
  place-items: center;
  min-width: 24px;
  min-height: 24px;
}
</style>
