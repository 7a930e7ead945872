<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconCheck from '~icons/ph/check'
import type { Schemas } from '../../api/client'
import { useSession } from '../../app/session'
import Door from '../../parts/Door.vue'
import { useSaid } from '../../sentences/said'
import { usePlaceWords, useTalk } from './acts'
import { shown } from './text'
import WriteRemark from './WriteRemark.vue'

/** What was said about one thing, from the first remark on, and what one can say to it. */
const props = defineProps<{
  item: string
  thread: Schemas['RemarkThread']
  mayRemark: boolean
  mayShare?: boolean
  number?: number
  on: boolean
  version?: number
}>()
const emit = defineEmits<{ pick: [] }>()
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const placeWords = usePlaceWords()
const { say, edit, remove, settle, tick, busy, wrong } = useTalk(() => props.item)
const answering = ref(false)
const editing = ref<string>()
const first = computed(() => props.thread.remarks[0])
const last = computed(() => props.thread.remarks.at(-1)!)
const unread = computed(() => props.thread.remarks.filter((r) => r.unread).length)
/** A settled thread is folded until one opens it. */
const open = ref(!props.thread.resolved || props.on)
const row = ref<HTMLElement>()
onMounted(() => props.on && row.value?.scrollIntoView({ block: 'nearest' }))
const mine = (r: Schemas['Remark']) => r.ticks.some((p) => p.id === store.session?.person.id)
const again = ref<HTMLButtonElement>()
async function closeAnswer() {
  answering.value = false
  await nextTick()
  again.value?.focus({ preventScroll: true })
}
async function answer(text: string, mentions: string[]) {
  if (await say({ text, mentions, thread: props.thread.id })) await closeAnswer()
}
async function change(id: string, text: string, mentions: string[]) {
  if (await edit(id, text, mentions)) editing.value = undefined
}
</script>

<template>
  <li
    ref="row"
    class="thread"
    :class="{ on, settled: thread.resolved }"
    :data-thread="thread.id"
    @focusin="emit('pick')"
    @click="emit('pick')"
  >
    <p v-if="thread.place || number" class="small quiet place">
      <span v-if="number" class="pin" :class="{ unread }">{{ number }}</span>
      {{ placeWords(thread.place) }}
      <template v-if="thread.place && !thread.carried && thread.version">
        <b class="only-words">{{ t('remarks.ofVersion', { n: thread.version }) }}</b>
      </template>
    </p>
    <p v-if="thread.resolved" class="small done">
      <IconCheck class="i i-s" aria-hidden="true" />
      {{ t('remarks.resolvedBy', { by: thread.resolvedBy ?? '', when: said.when(thread.resolved) }) }}
      <button type="button" class="go" :aria-expanded="open" @click.stop="open = !open">
        {{ t(open ? 'remarks.fold' : 'remarks.unfold') }}
      </button>
    </p>
    <template v-if="open">
      <article v-for="r in thread.remarks" :key="r.id" :class="{ unread: r.unread }" :data-remark="r.id">
        <header>
          <b>{{ r.by || t('common.somebody') }}</b>
          <Door v-if="r.guest" :state="r.byLink ? 'open' : 'ajar'" />
          <time class="quiet" :datetime="r.at" :title="said.full(r.at)">{{ said.when(r.at) }}</time>
          <span v-if="r.edited" class="quiet small">{{ t('remarks.edited') }}</span>
          <span v-if="r.unread" class="new">{{ t('remarks.new') }}</span>
        </header>
        <WriteRemark
          v-if="editing === r.id"
          :item="item"
          :act="t('remarks.keep')"
          :hint="t('remarks.hint')"
          :begun="r.text"
          :may-share="mayShare"
          :busy="busy"
          :wrong="wrong"
          focus
          escapes
          @say="(text, mentions) => change(r.id, text, mentions)"
          @discard="editing = undefined"
        />
        <p v-else-if="r.removed" class="quiet">{{ t('remarks.wasRemoved') }}</p>
        <!-- eslint-disable-next-line vue/no-v-html -- made without HTML of anybody's, see text.ts; scripts are forbidden by policy -->
        <div v-else class="text terms" v-html="shown(r)"></div>
        <p class="acts small">
          <span v-if="r.ticks.length" class="done">
            <IconCheck class="i i-s" aria-hidden="true" />
            {{ r.ticks.map((p) => p.name).join(', ') }}
          </span>
          <button
            v-if="mayRemark && !r.mine && !r.removed"
            type="button"
            class="go"
            :aria-pressed="mine(r)"
            :disabled="busy"
            @click="tick(r.id, !mine(r))"
          >
            {{ t(mine(r) ? 'remarks.untick' : 'remarks.tick') }}
          </button>
          <button v-if="r.mayChange" type="button" class="go" @click="editing = r.id">{{ t('remarks.change') }}</button>
          <button v-if="r.mayRemove" type="button" class="go" :disabled="busy" @click="remove(r.id)">{{ t('remarks.remove') }}</button>
        </p>
      </article>
      <p v-if="first.byLink" class="small quiet">{{ t('remarks.heardOutside') }}</p>
      <template v-if="mayRemark">
        <WriteRemark
          v-if="answering"
          :item="item"
          :act="t('remarks.answer')"
          :hint="t('remarks.answerHint')"
          :may-share="mayShare"
          :busy="busy"
          :wrong="wrong"
          focus
          escapes
          @say="answer"
          @discard="closeAnswer"
        />
        <p v-else class="acts">
          <button ref="again" type="button" class="btn btn-plain btn-small" @click="answering = true">{{ t('remarks.answer') }}</button>
          <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="settle(thread.id, !thread.resolved)">
            {{ t(thread.resolved ? 'remarks.reopen' : 'remarks.resolve') }}
          </button>
        </p>
      </template>
    </template>
    <p v-else class="small quiet">{{ first.by }}: {{ (first.text || last.text).slice(0, 120) }}</p>
  </li>
</template>

<style scoped>
.thread {
  padding: var(--tb-s3);
  border-top: 1px solid var(--tb-line);
}
.thread.on {
  box-shadow: inset 0 0 0 1px var(--tb-action);
  background: var(--tb-sheet);
}
.place {
  display: flex;
  gap: var(--tb-s2);
  align-items: baseline;
  margin: 0 0 4px;
}
.pin {
  display: inline-grid;
  place-content: center;
  min-width: 18px;
  height: 18px;
  border: 1px solid var(--tb-ink);
  border-radius: 9px 9px 9px 2px;
  font: 600 var(--tb-small) / 1 var(--bs-font-sans-serif);
  color: var(--tb-ink);
}
.pin.unread {
  background: var(--tb-ink);
  color: var(--tb-page);
}
article {
  padding: 4px 0 4px 10px;
  border-left: 3px double transparent;
}
article.unread {
  border-left-color: var(--tb-ink);
}
article + article {
  border-top: 1px dotted var(--tb-line);
}
article header {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
  align-items: center;
  font-size: var(--tb-small);
}
.new {
  background: var(--tb-ink);
  color: var(--tb-page);
  font-size: var(--tb-small);
  padding: 0 5px;
}
.text {
  font-size: var(--tb-text);
  line-height: 20px;
  overflow-wrap: anywhere;
}
.text :deep(p) {
  margin: 0 0 4px;
}
.text :deep(.named) {
  color: var(--tb-action);
}
.text :deep(ul),
.text :deep(ol) {
  margin: 0 0 4px;
  padding-left: 20px;
}
.text :deep(pre) {
  overflow-x: auto;
  margin: 0 0 4px;
}
.acts {
  margin: 4px 0 0;
}
.done {
  color: var(--tb-done-text);
}
</style>
