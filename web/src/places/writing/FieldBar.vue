<script setup lang="ts">
import type { Node } from 'prosemirror-model'
import { NodeSelection, Selection } from 'prosemirror-state'
import type { EditorView } from 'prosemirror-view'
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { fieldKinds } from '../../parts/writing/schema'

/** What a field asks, as a sentence: in place of the bar while it is chosen. */
const props = defineProps<{ view: EditorView; at: number; node: Node }>()
const { t } = useI18n()
const label = useTemplateRef<HTMLInputElement>('label')
const said = (name: string) => props.node.attrs[name] as string
function set(name: string, value: unknown) {
  const { state } = props.view
  if (state.doc.nodeAt(props.at)?.type !== props.node.type || props.node.attrs[name] === value) return
  const tr = state.tr.setNodeAttribute(props.at, name, value)
  props.view.dispatch(tr.setSelection(NodeSelection.create(tr.doc, props.at)))
}
const typed = (name: string) => (e: Event) => set(name, (e.target as HTMLInputElement).value)
const kind = computed({ get: () => said('kind'), set: (k) => set('kind', k) })
const must = computed({ get: () => (props.node.attrs.must ? 'yes' : 'no'), set: (m) => set('must', m === 'yes') })
/** As they are typed: a comma that ends a word is not lost. */
const listed = ref(said('choices').split('\n').join(', '))
function choices(e: Event) {
  listed.value = (e.target as HTMLInputElement).value
  const words = listed.value.split(',').map((c) => c.trim())
  set('choices', words.filter(Boolean).join('\n'))
}
const kinds = computed(() => fieldKinds.map((k) => ({ value: k, words: t(`fillings.kind.${k}`) })))
const musts = computed(() => (['yes', 'no'] as const).map((k) => ({ value: k as string, words: t(`fillings.must.${k}`) })))
function away() {
  props.view.dispatch(props.view.state.tr.delete(props.at, props.at + 1))
  props.view.focus()
}
/** Back behind it, to go on writing. */
function back() {
  const { doc, tr } = props.view.state
  props.view.dispatch(tr.setSelection(Selection.near(doc.resolve(Math.min(props.at + 1, doc.content.size)))))
  props.view.focus()
}
/** What was typed holds, and one goes on writing. */
function entered(e: KeyboardEvent) {
  ;(e.target as HTMLElement).blur()
  back()
}
onMounted(() => nextTick(() => !said('label') && label.value?.focus()))
</script>

<template>
  <form class="field-bar" :aria-label="t('fillings.bar')" @submit.prevent @keydown.enter.prevent="entered" @keydown.esc.stop="back">
    <span class="quiet">{{ t('fillings.asks') }}</span>
    <SentenceSelect v-model="kind" :label="t('fillings.asks')" :options="kinds" />
    <label>
      <span>{{ t('fillings.called') }}</span>
      <input
        ref="label"
        class="form-control form-control-sm"
        :value="said('label')"
        maxlength="200"
        :placeholder="t('fillings.calledHint')"
        @input="typed('label')($event)"
      />
    </label>
    <label v-if="kind === 'choice'">
      <span>{{ t('fillings.choices') }}</span>
      <input
        class="form-control form-control-sm wide"
        :value="listed"
        maxlength="4000"
        :placeholder="t('fillings.choicesHint')"
        @input="choices"
      />
    </label>
    <template v-if="kind === 'number' || kind === 'day'">
      <label :title="kind === 'day' ? t('fillings.aheadHint') : undefined">
        <span>{{ t('fillings.least') }}</span>
        <input class="form-control form-control-sm short" :value="said('least')" maxlength="20" @input="typed('least')($event)" />
      </label>
      <label :title="kind === 'day' ? t('fillings.aheadHint') : undefined">
        <span>{{ t('fillings.most') }}</span>
        <input class="form-control form-control-sm short" :value="said('most')" maxlength="20" @input="typed('most')($event)" />
      </label>
    </template>
    <SentenceSelect v-model="must" :label="t('fillings.bar')" :options="musts" />
    <label>
      <span>{{ t('fillings.hint') }}</span>
      <input class="form-control form-control-sm" :value="said('hint')" maxlength="200" @input="typed('hint')($event)" />
    </label>
    <button type="button" class="btn btn-text btn-small" @click="away">{{ t('fillings.away') }}</button>
  </form>
</template>

<style scoped>
.field-bar {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 12px;
}
label {
  display: flex;
  align-items: center;
  gap: 6px;
  white-space: nowrap;
}
input {
  width: 170px;
}
.short {
  width: 84px;
}
.wide {
  width: 240px;
}
</style>
