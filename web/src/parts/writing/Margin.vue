<script setup lang="ts">
import type { EditorView } from 'prosemirror-view'
import { computed, nextTick, ref, useTemplateRef, watch } from 'vue'
import type { Pen } from './pens'
import { wordsIn, type Proposal } from './proposals'
import { useVoice } from './voice'

/** What is proposed, beside the words it is about: who, what goes and what comes, and the decision. */
const props = defineProps<{
  proposals: Proposal[]
  current?: string
  decides: boolean
  nameOf: (by: string) => string
  pens: Pen[]
  me: string
  view?: EditorView
  changes: number
}>()
const emit = defineEmits<{ decide: [ids: string[], accept: boolean]; pick: [id: string] }>()
const { t, when, count } = useVoice()
const list = useTemplateRef<HTMLElement>('list')
const tops = ref<Record<string, number>>({})

/** Each stands where its words stand, below the one before it. */
async function arrange() {
  await nextTick()
  const root = list.value
  if (!root || !props.view || getComputedStyle(root).position === 'static') return
  const zero = root.getBoundingClientRect().top
  let free = 44
  const next: Record<string, number> = {}
  for (const p of props.proposals) {
    const card = root.querySelector<HTMLElement>(`[data-proposal="${p.id}"]`)
    const wanted = props.view.coordsAtPos(Math.min(p.from + 1, props.view.state.doc.content.size)).top - zero - 8
    next[p.id] = Math.max(free, wanted)
    free = next[p.id]! + (card?.offsetHeight ?? 90) + 4
  }
  tops.value = next
}
watch(() => props.changes, arrange, { immediate: true, flush: 'post' })

function words(p: Proposal): string {
  const parts: string[] = []
  const [out, into] = [wordsIn(p.out), wordsIn(p.in)]
  if (out) parts.push(t('writing.wordsOut', { n: out }, out))
  if (into) parts.push(t('writing.wordsIn', { n: into }, into))
  if (!parts.length && p.breaks) parts.push(t('writing.breaks', { n: p.breaks }, p.breaks))
  return parts.length ? parts.join(', ') : t('writing.signs')
}
const letter = (by: string) => props.pens.find((p) => p.person === by)?.letter ?? [...props.nameOf(by)][0] ?? '?'
/** Whose proposals there are several of, who can be decided on at once. */
const several = computed(() => {
  const by = new Map<string, string[]>()
  for (const p of props.proposals) by.set(p.by, [...(by.get(p.by) ?? []), p.id])
  return [...by].filter(([, ids]) => ids.length > 1)
})
function pick(p: Proposal) {
  emit('pick', p.id)
  const view = props.view
  if (!view) return
  const dom = view.domAtPos(Math.min(p.from + 1, view.state.doc.content.size)).node
  const at = dom instanceof HTMLElement ? dom : dom.parentElement
  at?.scrollIntoView({ block: 'center', behavior: 'smooth' })
}
</script>

<template>
  <aside ref="list" class="beside" :aria-label="t('writing.margin')">
    <p class="small sum">
      <b>{{ t('writing.toDecide', { n: count(proposals.length) }, proposals.length) }}</b>
      <template v-if="decides && several.length">
        <span v-for="[by, ids] in several" :key="by" class="all">
          <button type="button" class="btn-line" @click="emit('decide', ids, true)">
            {{ t('writing.acceptAll', { name: nameOf(by) }) }}
          </button>
          <button type="button" class="btn-line" @click="emit('decide', ids, false)">{{ t('writing.rejectAll') }}</button>
        </span>
      </template>
    </p>
    <ol>
      <li
        v-for="p in proposals"
        :key="p.id"
        :data-proposal="p.id"
        :class="{ on: p.id === current }"
        :style="{ top: `${tops[p.id] ?? 44}px` }"
      >
        <span class="pen-letter" aria-hidden="true">{{ letter(p.by) }}</span>
        <div>
          <button type="button" class="go-there" @click="pick(p)">
            <b>{{ p.by === me ? t('writing.youPropose') : nameOf(p.by) }}</b>
            <span v-if="p.at" class="quiet small">{{ when(new Date(p.at).toISOString()) }}</span>
          </button>
          <p>{{ words(p) }}</p>
          <p v-if="p.out" class="small">
            <del>{{ p.out.slice(0, 120) }}</del>
          </p>
          <p v-if="p.in" class="small">
            <ins>{{ p.in.slice(0, 120) }}</ins>
          </p>
          <div v-if="decides || p.by === me" class="acts">
            <button v-if="decides" type="button" class="btn btn-plain btn-small" @click="emit('decide', [p.id], true)">
              {{ t('writing.accept') }}
              <kbd v-if="p.id === current" class="only-wide">Alt A</kbd>
            </button>
            <button v-if="decides" type="button" class="btn btn-plain btn-small" @click="emit('decide', [p.id], false)">
              {{ t('writing.reject') }}
              <kbd v-if="p.id === current" class="only-wide">Alt R</kbd>
            </button>
            <button v-else type="button" class="btn btn-plain btn-small" @click="emit('decide', [p.id], false)">
              {{ t('writing.withdraw') }}
            </button>
          </div>
        </div>
      </li>
    </ol>
  </aside>
</template>

<style scoped>
.beside {
  position: relative;
  border-left: 1px solid var(--tb-line);
}
.sum {
  padding: 12px 20px 0;
  margin: 0;
}
.all {
  display: flex;
  gap: var(--tb-s3);
}
ol {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  position: absolute;
  left: 0;
  right: 0;
  display: grid;
  grid-template-columns: 28px minmax(0, 1fr);
  padding: 10px 20px;
  font-size: var(--tb-text);
  background: var(--tb-page);
  border-top: 1px solid var(--tb-line);
}
li.on {
  background: var(--tb-sheet);
  border: 1px solid var(--tb-action);
  border-left-width: 3px;
}
li p {
  margin: 2px 0;
  overflow-wrap: anywhere;
}
.go-there {
  text-align: left;
  display: inline-flex;
  gap: 6px;
  align-items: baseline;
  min-height: 24px;
}
.acts {
  margin-top: 4px;
}
kbd {
  background: none;
  color: var(--tb-quiet);
  border: 1px solid var(--tb-line);
}
@media (max-width: 900px) {
  .beside {
    position: static;
    border-left: 0;
    border-top: 2px solid var(--tb-ink);
  }
  li {
    position: static;
  }
}
</style>
