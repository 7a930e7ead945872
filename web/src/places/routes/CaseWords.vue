<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import type { useRouteWords } from '../../sentences/route'
import WhoWords from './WhoWords.vue'

/** What happens at a stop, as words that are its controls. */
type Case = Schemas['RouteCase']
const one = defineModel<Case>({ required: true })
const props = defineProps<{
  words: ReturnType<typeof useRouteWords>
  folders: { id: string; name: string; number: string }[]
  routes: { id: string; name: string }[]
  number: number
}>()
const { t } = useI18n()
const set = (change: Partial<Case>) => (one.value = { ...one.value, ...change })
const people = ['review', 'approve', 'work', 'fill', 'sign', 'hold']
const asks = computed(() => people.includes(one.value.do))
const doings = [
  'approve',
  'review',
  'work',
  'fill',
  'sign',
  'hold',
  'set',
  'tag',
  'untag',
  'move',
  'copy',
  'tell',
  'give',
  'wait',
  'start',
  'pass',
  'end',
] as const
const days = ['1', '2', '3', '5', '10', '20']
/** What is said of one kind of deed does not hold of another. */
function become(to: Case['do']) {
  const kept = one.value
  one.value =
    people.includes(to) && people.includes(kept.do)
      ? { ...kept, do: to }
      : { do: to, when: kept.when, ...(to === 'tell' || people.includes(to) ? { who: kept.who ?? [] } : {}) }
}
const spanOf = (s?: Schemas['Span']) => (s ? `${s.n} ${s.unit}` : '')
const ofSpan = (key: string): Schemas['Span'] | undefined =>
  key ? { n: Number(key.split(' ')[0]), unit: key.split(' ')[1] as 'days' | 'hours' } : undefined
const spans = computed(() => {
  const all = [...days.map((n) => `${n} days`), '1 hours', '4 hours']
  const now = spanOf(one.value.within)
  return [...(now && !all.includes(now) ? [now] : []), ...all].map((value) => ({ value, words: props.words.span(ofSpan(value)) }))
})
const waits = computed(() => [
  ...props.words.particulars.value.filter((p) => p.kind === 'date').map((p) => ({ value: `until ${p.id}`, words: p.name })),
  ...days.map((n) => ({ value: `${n} days`, words: props.words.span(ofSpan(`${n} days`)) })),
])
const waiting = computed({
  get: () => (one.value.particular ? `until ${one.value.particular}` : spanOf(one.value.for)),
  set: (key: string) =>
    set(key.startsWith('until') ? { particular: key.slice(6), for: undefined } : { for: ofSpan(key), particular: undefined }),
})
const folderOptions = computed(() => [
  ...(one.value.folder && !props.folders.some((f) => f.id === one.value.folder)
    ? [{ value: one.value.folder as string, words: props.words.folder(one.value.folder) }]
    : []),
  ...props.folders.map((f) => ({ value: f.id, words: `${f.number} ${f.name}` })),
])
const returned = computed({
  get: () => (one.value.returned?.to === 'stop' ? `stop ${one.value.returned.stop}` : (one.value.returned?.to ?? 'author')),
  set: (key: string) => set({ returned: key.startsWith('stop') ? { to: 'stop', stop: Number(key.slice(5)) } : { to: key as 'author' } }),
})
const goals = computed(() => [
  ...(['author', 'starter', 'end'] as const).map((g) => ({ value: g as string, words: t(`routes.returned.${g}`) })),
  ...Array.from({ length: props.number - 1 }, (_, i) => ({ value: `stop ${i + 1}`, words: t('routes.returned.stop', { n: i + 1 }) })),
])
const pick = { value: '', words: t('routes.pick') }
</script>

<template>
  <span class="case">
    <SentenceSelect
      :model-value="one.do"
      :label="t('routes.word.action')"
      :options="doings.map((value) => ({ value, words: t(`routes.actionOption.${value}`) }))"
      @update:model-value="become($event)"
    />
    {{ ' ' }}
    <template v-if="asks || one.do === 'tell'">
      <WhoWords :model-value="one.who ?? []" :label="t('routes.word.who')" :name="words.one" @update:model-value="set({ who: $event })" />
    </template>
    <template v-if="one.do === 'fill' || one.do === 'set'">
      {{ ' ' }}
      <SentenceSelect
        :model-value="one.particular ?? ''"
        :label="t('routes.word.particular')"
        :options="[pick, ...words.particulars.value.map((p) => ({ value: p.id as string, words: p.name }))]"
        @update:model-value="set({ particular: $event || undefined })"
      />
    </template>
    <template v-if="one.do === 'set'">
      {{ ` ${t('routes.to')} ` }}
      <WordField
        :label="t('routes.word.value')"
        :value="one.value ?? ''"
        :placeholder="t('routes.nothing')"
        may
        @set="set({ value: $event || undefined })"
      />
    </template>
    <SentenceSelect
      v-if="one.do === 'tag' || one.do === 'untag'"
      :model-value="one.tag ?? ''"
      :label="t('routes.word.tag')"
      :options="[pick, ...words.tags.value.filter((g) => !g.own).map((g) => ({ value: g.id as string, words: g.name }))]"
      @update:model-value="set({ tag: $event || undefined })"
    />
    <template v-if="one.do === 'move' || one.do === 'copy'">
      {{ `${t('routes.to')} ` }}
      <SentenceSelect
        :model-value="one.folder ?? ''"
        :label="t('routes.word.folder')"
        :options="[pick, ...folderOptions]"
        @update:model-value="set({ folder: $event || undefined })"
      />
    </template>
    <template v-if="one.do === 'move'">
      {{ ' ' }}
      <SentenceSelect
        :model-value="!!one.issues"
        :label="t('routes.word.issues')"
        :options="[
          { value: false, words: t('routes.issuesNot') },
          { value: true, words: t('routes.issuesYes') },
        ]"
        @update:model-value="set({ issues: $event || undefined })"
      />
    </template>
    <template v-if="one.do === 'give'">
      {{ `${t('routes.to')} ` }}
      <WordField
        :label="t('routes.word.to')"
        :value="(one.to ?? []).join(', ')"
        placeholder="name@…"
        may
        @set="set({ to: $event.split(/[\s,;]+/).filter(Boolean) })"
      />
      {{ ', ' }}
      <WordField
        :label="t('routes.word.terms')"
        :value="one.terms ?? ''"
        :placeholder="t('routes.word.terms')"
        may
        @set="set({ terms: $event || undefined })"
      />
    </template>
    <SentenceSelect
      v-if="one.do === 'start'"
      :model-value="one.route ?? ''"
      :label="t('routes.word.route')"
      :options="[pick, ...routes.map((r) => ({ value: r.id, words: r.name }))]"
      @update:model-value="set({ route: $event || undefined })"
    />
    <SentenceSelect v-if="one.do === 'wait'" v-model="waiting" :label="t('routes.word.span')" :options="[pick, ...waits]" />
    <template v-if="asks && one.do !== 'hold'">
      <template v-if="(one.who?.length ?? 0) > 1 || one.who?.some((w) => w.group)">
        {{ ' ' }}
        <SentenceSelect
          :model-value="one.rule ?? 'any'"
          :label="t('routes.word.rule')"
          :options="
            (['any', 'all', 'turn', 'some'] as const).map((value) => ({ value, words: t(`routes.rule.${value}`, { n: one.of ?? 2 }) }))
          "
          @update:model-value="set({ rule: $event, of: $event === 'some' ? (one.of ?? 2) : undefined })"
        />
        <template v-if="one.rule === 'some'">
          {{ ' ' }}
          <WordField :label="t('routes.word.of')" :value="String(one.of ?? 2)" may @set="set({ of: Math.trunc(Number($event)) || 1 })" />
        </template>
      </template>
      {{ ' ' }}
      <SentenceSelect
        :model-value="!!one.notAuthor"
        :label="t('routes.word.notAuthor')"
        :options="[
          { value: false, words: t('routes.authorToo') },
          { value: true, words: t('routes.authorNot') },
        ]"
        then=","
        @update:model-value="set({ notAuthor: $event || undefined })"
      />
      {{ ` ${one.within ? t('routes.withinLabel') : ''} ` }}
      <SentenceSelect
        :model-value="spanOf(one.within)"
        :label="t('routes.word.span')"
        :options="[{ value: '', words: t('routes.noTime') }, ...spans]"
        @update:model-value="
          set({ within: ofSpan($event), ...($event ? {} : { remind: undefined, lateTell: undefined, lateAsk: undefined }) })
        "
      />
      <template v-if="one.remind">
        {{ `; ${t('routes.remind', { span: words.span(one.remind) })}` }}
        <button type="button" class="plus" :aria-label="t('routes.minus')" @click="set({ remind: undefined })">−</button>
      </template>
      <template v-if="one.lateTell">
        {{ `; ${t('routes.lateTell')} ` }}
        <WhoWords
          :model-value="one.lateTell"
          :label="t('routes.lateTell')"
          :name="words.one"
          @update:model-value="set({ lateTell: $event.length ? $event : undefined })"
        />
      </template>
      <template v-if="one.lateAsk">
        {{ `; ${t('routes.lateAsk')} ` }}
        <WhoWords
          :model-value="one.lateAsk"
          :label="t('routes.lateAsk')"
          :name="words.one"
          @update:model-value="set({ lateAsk: $event.length ? $event : undefined })"
        />
      </template>
      <template v-if="one.returned">
        {{ `; ${t('routes.returnedTo')} ` }}
        <SentenceSelect v-model="returned" :label="t('routes.word.returned')" :options="goals" />
      </template>
    </template>
    <template v-if="one.instructions !== undefined">
      {{ `. ${t('routes.instructions')} ` }}
      <WordField
        :label="t('routes.word.instructions')"
        :value="one.instructions"
        placeholder="…"
        may
        @set="set({ instructions: $event || undefined })"
      />
    </template>
    <span class="pluses">
      <template v-if="asks && one.do !== 'hold'">
        <button
          v-if="one.within && one.within.n > 1 && !one.remind"
          type="button"
          class="plus"
          @click="set({ remind: { n: 1, unit: one.within.unit } })"
        >
          {{ t('routes.plus.remind') }}
        </button>
        <button v-if="one.within && !one.lateTell" type="button" class="plus" @click="set({ lateTell: [{ role: 'managers' }] })">
          {{ t('routes.plus.late') }}
        </button>
        <button v-if="one.within && !one.lateAsk" type="button" class="plus" @click="set({ lateAsk: [{ role: 'managers' }] })">
          {{ t('routes.plus.lateAsk') }}
        </button>
        <button v-if="!one.returned" type="button" class="plus" @click="set({ returned: { to: 'starter' } })">
          {{ t('routes.plus.returned') }}
        </button>
      </template>
      <button
        v-if="(asks || one.do === 'tell' || one.do === 'give') && one.instructions === undefined"
        type="button"
        class="plus"
        @click="set({ instructions: '' })"
      >
        {{ t('routes.plus.instructions') }}
      </button>
    </span>
  </span>
</template>

<style scoped>
.pluses {
  display: inline-flex;
  flex-wrap: wrap;
  gap: 0 14px;
  font-size: var(--tb-small);
  margin-left: var(--tb-s2);
}
</style>
