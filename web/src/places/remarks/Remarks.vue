<script setup lang="ts">
import { useTimeoutFn } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useRemarks, type Place, type Showing } from '../../queries/remarks'
import { useSaid } from '../../sentences/said'
import { useTalk } from './acts'
import RemarkThread from './RemarkThread.vue'
import WriteRemark from './WriteRemark.vue'

/**
 * What was said about a folder or document: a sentence of what there is, threads, and a place to write. On a document that
 * is looked at, threads have the numbers that stand at their places.
 */
const props = defineProps<{ item: string; version?: number; numbers?: Map<string, number>; place?: Place; picked?: string }>()
const emit = defineEmits<{ pick: [thread: string]; said: [] }>()
const { t } = useI18n()
const said = useSaid()
const show = ref<Showing>('all')
const { data: pages, error, refetch, fetchNextPage, hasNextPage } = useRemarks(() => props.item, show)
const { say, seen, busy, wrong } = useTalk(() => props.item)
const first = computed(() => pages.value?.pages[0])
const threads = computed(() => pages.value?.pages.flatMap((p) => p.threads) ?? [])
const options = computed(() => (['all', 'open', 'mine', 'unread'] as const).map((value) => ({ value, words: t(`remarks.show.${value}`) })))
const summary = computed(() => {
  const p = first.value
  if (!p) return ''
  if (!p.total) return t('remarks.none')
  return [
    t('remarks.count', { n: said.count(p.total) }, p.total),
    ...(p.unread ? [t('remarks.unread', { n: p.unread }, p.unread)] : []),
    ...(p.named ? [t('remarks.nameYou', { n: p.named }, p.named)] : []),
    ...(p.resolved ? [t('remarks.resolved', { n: p.resolved }, p.resolved)] : []),
  ].join(', ')
})
/** What stood before one's eyes for a moment is read; it stays marked until one comes again. */
const { start } = useTimeoutFn(() => void seen(), 3000, { immediate: false })
watch(
  () => first.value?.unread,
  (n) => n && start(),
  { immediate: true },
)
const box = ref<InstanceType<typeof WriteRemark>>()
async function write(text: string, mentions: string[]) {
  const id = await say({ text, mentions, place: props.place, version: props.version })
  if (!id) return
  box.value?.clear()
  emit('said')
  emit('pick', id)
}
</script>

<template>
  <div class="remarks">
    <p class="small">
      {{ summary }}.
      <template v-if="(first?.total ?? 0) > 1">
        {{ t('remarks.showing') }}
        <SentenceSelect v-model="show" :label="t('remarks.showing')" :options="options" then="." />
      </template>
    </p>
    <Failed v-if="error && !pages" :error="error" @again="refetch()" />
    <WriteRemark
      v-if="first?.mayRemark"
      ref="box"
      :item="item"
      :act="t('remarks.say')"
      :hint="t('remarks.hint')"
      :may-share="first.mayShare"
      :busy="busy"
      :wrong="wrong"
      @say="write"
    >
      <slot></slot>
    </WriteRemark>
    <p v-else-if="first && !first.total" class="small quiet">{{ t('remarks.onlyRead') }}</p>
    <ol class="threads">
      <RemarkThread
        v-for="th in threads"
        :key="th.id"
        :item="item"
        :thread="th"
        :may-remark="!!first?.mayRemark"
        :may-share="!!first?.mayShare"
        :number="numbers?.get(th.id)"
        :on="th.id === picked"
        @pick="emit('pick', th.id)"
      />
    </ol>
    <button v-if="hasNextPage" type="button" class="btn btn-plain btn-small" @click="fetchNextPage()">{{ t('common.more') }}</button>
    <p v-if="first?.total" class="small acts">
      <a class="go" :href="`/api/items/${item}/remarks.csv`" download>CSV</a>
      <a class="go" :href="`/api/items/${item}/remarks.pdf`" download>PDF</a>
      <a v-if="first.inWord && first.total > first.resolved" class="go" :href="`/api/items/${item}/remarks.docx`" download>
        {{ t('remarks.inWord') }}
      </a>
    </p>
  </div>
</template>

<style scoped>
.threads {
  list-style: none;
  margin: var(--tb-s2) 0;
  padding: 0;
}
</style>
