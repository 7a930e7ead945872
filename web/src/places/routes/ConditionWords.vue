<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import WordField from '../../parts/WordField.vue'
import { useDirectory } from '../../queries/people'
import type { useRouteWords } from '../../sentences/route'

/** A condition as words: tests, joined by and or by or. What is nested deeper, as a file may bring it, is read alone. */
const condition = defineModel<Schemas['Condition']>({ required: true })
const props = defineProps<{ words: ReturnType<typeof useRouteWords> }>()
const { t } = useI18n()
const { data: directory } = useDirectory()
type Test = Schemas['Test']
const join = computed<'all' | 'any'>({
  get: () => (condition.value.any ? 'any' : 'all'),
  set: (j) => (condition.value = { [j]: tests.value!.map((test) => ({ test })) }),
})
/** Its tests, where it is no deeper than that. */
const tests = computed<Test[] | undefined>(() => {
  const c = condition.value
  if (c.test) return [c.test]
  const all = c.all ?? c.any
  return all?.every((x) => x.test) ? all.map((x) => x.test!) : undefined
})
function put(all: Test[]) {
  condition.value = all.length === 1 ? { test: all[0] } : { [join.value]: all.map((test) => ({ test })) }
}
const set = (i: number, change: Partial<Test>) => put(tests.value!.map((x, j) => (j === i ? { ...x, ...change } : x)))
const subjects = computed(() => [
  ...props.words.particulars.value.map((p) => ({ value: `particular ${p.id}`, words: p.name })),
  ...(['size', 'type', 'name', 'author', 'dossier', 'reach'] as const).map((s) => ({ value: s as string, words: t(`routes.of.${s}`) })),
  ...props.words.tags.value.filter((g) => !g.own).map((g) => ({ value: `tag ${g.id}`, words: t('routes.ofTag', { tag: g.name }) })),
])
const subjectOf = (x: Test) => (x.particular ? `particular ${x.particular}` : x.tag ? `tag ${x.tag}` : (x.of as string))
function setSubject(i: number, key: string) {
  const [of, id] = key.split(' ') as [Test['of'], string | undefined]
  const fresh: Test = { of, is: 'is', value: undefined, ...(of === 'particular' ? { particular: id } : of === 'tag' ? { tag: id } : {}) }
  fresh.is = relations(fresh)[0]!
  put(tests.value!.map((x, j) => (j === i ? fresh : x)))
}
function relations(x: Test): Test['is'][] {
  if (x.of === 'size') return ['at-least', 'under']
  if (x.of === 'name') return ['contains', 'is', 'is-not']
  if (x.of === 'tag') return ['set', 'not-set']
  if (x.of !== 'particular') return ['is', 'is-not']
  const kind = props.words.particular(x.particular)?.kind
  if (kind === 'text') return ['contains', 'is', 'is-not', 'set', 'not-set']
  if (kind === 'choice' || kind === 'person') return ['is', 'is-not', 'set', 'not-set']
  return ['at-least', 'under', 'is', 'is-not', 'set', 'not-set']
}
const wants = (x: Test) => x.is !== 'set' && x.is !== 'not-set'
/** What can be chosen as a value, where not everything can. */
function values(x: Test) {
  const p = props.words.particular(x.particular)
  if (p?.kind === 'choice') return (p.choices ?? []).map((v) => ({ value: v, words: v }))
  if (x.of === 'dossier') return ['client', 'internal', 'desk'].map((v) => ({ value: v, words: t(`routes.dossier.${v}`) }))
  if (x.of === 'reach') return ['closed', 'named', 'open'].map((v) => ({ value: v, words: t(`routes.reach.${v}`) }))
  if (x.of === 'author' || p?.kind === 'person')
    return [
      ...(x.of === 'author' ? (directory.value?.groups ?? []).map((g) => ({ value: g.id as string, words: g.name })) : []),
      ...(directory.value?.accounts ?? []).filter((a) => !a.ended).map((a) => ({ value: a.person.id as string, words: a.person.name })),
    ]
  return undefined
}
/** Numbers are written as the language does; they are kept as every language reads them. */
const plain = (x: Test, typed: string) => {
  const kind = props.words.particular(x.particular)?.kind
  return kind === 'money' || kind === 'number'
    ? typed
        .replace(/[\s’']/g, '')
        .replace(/[.,](?=\d{3}\b)/g, '')
        .replace(',', '.')
    : typed
}
const unit = (x: Test) => props.words.particular(x.particular)?.unit ?? (x.of === 'size' ? 'B' : '')
</script>

<template>
  <span v-if="!tests">{{ words.condition(condition) }}</span>
  <span v-else>
    <template v-for="(x, i) in tests" :key="i">
      <template v-if="i">
        {{ ' ' }}
        <SentenceSelect
          v-model="join"
          :label="t('routes.word.join')"
          :options="[
            { value: 'all', words: t('routes.and') },
            { value: 'any', words: t('routes.or') },
          ]"
        />
        {{ ' ' }}
      </template>
      <SentenceSelect
        :model-value="subjectOf(x)"
        :label="t('routes.word.subject')"
        :options="subjects"
        @update:model-value="setSubject(i, $event)"
      />
      {{ ' ' }}
      <SentenceSelect
        :model-value="x.is"
        :label="t('routes.word.relation')"
        :options="relations(x).map((value) => ({ value, words: t(`routes.is.${value}`) }))"
        @update:model-value="set(i, { is: $event })"
      />
      <template v-if="wants(x)">
        {{ ' ' }}
        <SentenceSelect
          v-if="values(x)"
          :model-value="x.value ?? ''"
          :label="t('routes.word.value')"
          :options="[{ value: '', words: t('routes.pick') }, ...values(x)!]"
          @update:model-value="set(i, { value: $event })"
        />
        <template v-else>
          <WordField
            :label="t('routes.word.value')"
            :value="x.value ? words.value({ ...x, unit: undefined }).replace(` ${unit(x)}`, '') : ''"
            placeholder="…"
            may
            @set="set(i, { value: plain(x, $event) })"
          />
          {{ unit(x) }}
        </template>
      </template>
      <button
        v-if="tests.length > 1"
        type="button"
        class="plus"
        :aria-label="t('routes.minus')"
        @click="put(tests.filter((_, j) => j !== i))"
      >
        −
      </button>
    </template>
    {{ ' ' }}
    <button type="button" class="plus" @click="put([...tests, { ...tests[tests.length - 1]! }])">{{ t('routes.plus.and') }}</button>
  </span>
</template>
