<script setup lang="ts">
import { computed, ref, useId } from 'vue'
import { useI18n } from 'vue-i18n'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { inPortions, useDoneWords, type Done } from '../../app/many'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useTags } from '../../queries/tags'

/** Writes tags for documents, several apart by commas: the practice's, or one's own. Those that there are are proposed. */
const props = defineProps<{ documents: string[]; mayShared: boolean }>()
const { t } = useI18n()
const { data: all } = useTags()
const { act, busy, wrong } = useAct()
const partly = useDoneWords()
const written = ref('')
const id = useId()
/** A guest puts tags that the practice has; who may not change a document has tags of their own. */
const own = ref(!props.mayShared)
const proposed = computed(() => all.value?.filter((g) => g.own === own.value) ?? [])
const kinds = computed(() => [
  ...(props.mayShared ? [{ value: false, words: t('tags.practice') }] : []),
  { value: true, words: t('tags.mine') },
])

async function put() {
  const names = written.value
    .split(',')
    .map((n) => n.trim())
    .filter(Boolean)
  if (!names.length) return
  const before = new Set(all.value?.filter((g) => g.own === own.value).map((g) => g.name.toLowerCase()))
  let done: Done<unknown>
  const tag = (documents: string[]) => api.POST('/tagging', { body: { documents, put: names, own: own.value } })
  const did = await act(async () => (done = await inPortions(props.documents, tag)), {
    done: () =>
      partly(
        done,
        t(
          names.some((n) => !before.has(n.toLowerCase())) ? 'tags.putNew' : 'tags.put',
          { names: names.join(', '), n: props.documents.length },
          props.documents.length,
        ),
      ),
    undo: { do: () => takeOff(names, done.things), done: t('tags.taken', { names: names.join(', ') }) },
  })
  if (did) written.value = ''
}
async function takeOff(names: string[], tagged: string[]) {
  const { data: now } = await api.GET('/tags')
  const take = (now ?? [])
    .filter((g) => g.own === own.value && names.some((n) => n.toLowerCase() === g.name.toLowerCase()))
    .map((g) => g.id)
  return inPortions(tagged, (documents) => api.POST('/tagging', { body: { documents, take } }))
}
</script>

<template>
  <form class="tag-field" @submit.prevent="put">
    <input
      v-model="written"
      class="form-control"
      :list="id"
      :aria-label="t('tags.write')"
      :placeholder="t('tags.field')"
      autocomplete="off"
      maxlength="400"
      @keydown.esc.stop="written = ''"
    />
    <datalist :id="id">
      <option v-for="g in proposed" :key="g.id" :value="g.name" />
    </datalist>
    <span v-if="kinds.length > 1" class="terms">
      <SentenceSelect v-model="own" :label="t('tags.whose')" :options="kinds" />
    </span>
    <button type="submit" class="btn btn-plain btn-small" :disabled="busy || !written.trim()">{{ t('tags.do') }}</button>
    <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
  </form>
</template>

<style scoped>
.tag-field {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s1) var(--tb-s2);
  align-items: center;
}
.form-control {
  flex: 1 1 120px;
  min-width: 0;
}
p {
  flex-basis: 100%;
}
</style>
