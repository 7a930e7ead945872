<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { extensionOf, stemOf } from '../../i18n/words'

/** Another name for an item. A document's ending stands outside what is edited; who manages may change it on purpose. */
const props = defineProps<{ id: string; name: string; kind: 'folder' | 'document'; mayEnding?: boolean }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const ending = ref(props.kind === 'document' && extensionOf(props.name) ? props.name.slice(stemOf(props.name).length) : '')
const typed = ref(ending.value ? stemOf(props.name) : props.name)
const field = ref<HTMLInputElement>()
/** What is shown follows the new name at once. */
const before = props.name
const { act, busy, wrong } = useAct()

const say = (name: string) => api.PUT('/items/{id}/name', { params: { path: { id: props.id } }, body: { name } })
async function rename() {
  const done = await act(() => say(typed.value.trim() + ending.value), {
    done: t('slip.renamed'),
    undo: { do: () => say(before), done: t('slip.renamed') },
  })
  if (done) emit('done')
}
function withEnding() {
  typed.value += ending.value
  ending.value = ''
  field.value?.focus()
}
onMounted(() => field.value?.select())
</script>

<template>
  <form class="acts name" @submit.prevent="rename" @keydown.esc.stop="$emit('done')">
    <input ref="field" v-model="typed" class="form-control" data-field="name" :aria-label="t('slip.newName')" />
    <template v-if="ending">
      <button v-if="mayEnding" type="button" class="go" :title="t('slip.changeEnding')" @click="withEnding">{{ ending }}</button>
      <span v-else class="quiet">{{ ending }}</span>
    </template>
    <button class="btn btn-primary btn-small" type="submit" :disabled="busy || !typed.trim()">{{ t('slip.rename') }}</button>
    <button class="btn btn-text btn-small" type="button" @click="$emit('done')">{{ t('common.discard') }}</button>
    <p v-if="wrong" class="t-caution small whole" role="alert">{{ wrong }}</p>
  </form>
</template>

<style scoped>
.name {
  flex-wrap: wrap;
  margin: var(--tb-s1) 0 var(--tb-s2);
}
.form-control {
  flex: 1 1 150px;
  min-width: 0;
}
.whole {
  flex-basis: 100%;
}
</style>
