<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'

/** A text with what was removed, added and moved; long parts that are the same are folded. */
const props = defineProps<{ text: Schemas['ComparedText'] }>()
const { t } = useI18n()
const unfolded = ref(new Set<number>())
const most = 900
const kept = 320

/** Pieces, with the number of their change: what is removed and added side by side is one. */
const pieces = computed(() => {
  let change = 0
  return props.text.pieces.map((p, i) => {
    const first = p.kind !== 'same' && (i === 0 || props.text.pieces[i - 1]?.kind === 'same')
    if (first) change++
    return { ...p, change: first ? change : undefined, i }
  })
})
const words = (text: string) => text.split(/\s+/).filter(Boolean).length
/** What stays in sight of a long part: its end before a change, its beginning after one. */
function ends(text: string, i: number) {
  const before = i === 0 ? '' : text.slice(0, kept)
  const after = i === props.text.pieces.length - 1 ? '' : text.slice(-kept)
  return { before, after, folded: words(text) - words(before) - words(after) }
}
</script>

<template>
  <div class="compared">
    <template v-for="p in pieces" :key="p.i">
      <del v-if="p.kind === 'removed'" :class="{ moved: p.moved }" :data-change="p.change" tabindex="-1">{{ p.text }}</del>
      <ins v-else-if="p.kind === 'added'" :class="{ moved: p.moved }" :data-change="p.change" tabindex="-1">{{ p.text }}</ins>
      <template v-else-if="p.text.length > most && !unfolded.has(p.i)">
        <span>{{ ends(p.text, p.i).before }}</span>
        <button type="button" class="fold" @click="unfolded.add(p.i)">
          {{ t('comparison.sameWords', { n: ends(p.text, p.i).folded }, ends(p.text, p.i).folded) }}
        </button>
        <span>{{ ends(p.text, p.i).after }}</span>
      </template>
      <span v-else>{{ p.text }}</span>
    </template>
  </div>
</template>

<style scoped>
.compared {
  max-width: 820px;
  margin: 0 auto;
  padding: 28px 40px;
  background: var(--tb-sheet);
  border: 1px solid var(--tb-line);
  font-family: 'Literata Variable', Literata, Charter, serif;
  font-size: var(--tb-read);
  line-height: 1.6;
  white-space: pre-wrap;
  overflow-wrap: anywhere;
}
del {
  color: var(--tb-quiet);
  background: var(--tb-page);
}
ins {
  text-decoration-color: var(--tb-done);
  text-decoration-thickness: 2px;
  text-underline-offset: 3px;
  background: var(--tb-selection);
}
.moved {
  text-decoration-style: dotted;
}
.fold {
  display: block;
  width: 100%;
  margin: var(--tb-s2) 0;
  padding: 2px 0;
  border: solid var(--tb-line);
  border-width: 1px 0;
  background: var(--tb-page);
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
@media (max-width: 900px) {
  .compared {
    padding: var(--tb-s3);
  }
}
</style>
