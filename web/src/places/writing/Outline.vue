<script setup lang="ts">
import type { EditorView } from 'prosemirror-view'
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'

/** The headings of a text, as its table of contents; the one above the caret is where one is. */
const props = defineProps<{ view: EditorView; changes: number }>()
const { t } = useI18n()
const headings = computed(() => {
  const all: { pos: number; level: number; text: string }[] = []
  if (props.changes < 0) return all
  props.view.state.doc.descendants((n, pos) => {
    if (n.type.name === 'heading' && n.textContent.trim()) all.push({ pos, level: n.attrs.level as number, text: n.textContent })
    return n.type.name === 'blockquote'
  })
  return all
})
const here = computed(() => {
  const at = props.changes >= 0 ? props.view.state.selection.head : 0
  return headings.value.findLast((h) => h.pos <= at)?.pos
})
function go(pos: number) {
  const dom = props.view.nodeDOM(pos)
  if (dom instanceof HTMLElement) dom.scrollIntoView({ block: 'start' })
}
</script>

<template>
  <nav v-if="headings.length > 1" class="outline" :aria-label="t('writing.outline')">
    <ol>
      <li v-for="h in headings" :key="h.pos" :style="{ paddingLeft: `${(h.level - 1) * 14}px` }">
        <button type="button" :aria-current="h.pos === here" @click="go(h.pos)">{{ h.text }}</button>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.outline {
  position: sticky;
  top: 0;
  align-self: start;
  max-height: 100%;
  overflow: auto;
  padding: 20px 8px 20px 24px;
  font-size: var(--tb-text);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
button {
  display: block;
  width: 100%;
  min-height: 26px;
  text-align: left;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  color: var(--tb-quiet);
}
button[aria-current='true'] {
  color: var(--tb-ink);
  font-weight: 650;
}
@media (max-width: 1150px) {
  .outline {
    display: none;
  }
}
</style>
