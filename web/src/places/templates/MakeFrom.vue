<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { writtenAs } from '../../app/written'
import { extensionOf, stemOf } from '../../i18n/words'
import { useSaid } from '../../sentences/said'

/** A document made from another one: which one, how it is called, and what stands in its blanks. */
const props = defineProps<{ folder: string; dossier: string; template?: { id: string; name: string } }>()
const emit = defineEmits<{ made: [id: string]; discard: [] }>()
const { t } = useI18n()
const said = useSaid()
const { act, wrong, busy, field } = useAct()
const template = ref(props.template)
const words = ref('')
const asked = refDebounced(words, 150)
const first = ref<HTMLInputElement>()
/** Where one begins: at which document, and then at its name. */
watch(first, (input) => input?.focus(), { flush: 'post' })

const { data: found } = useQuery({
  queryKey: computed(() => ['find', asked.value, props.dossier]),
  queryFn: () => data(api.GET('/find', { params: { query: { q: asked.value, dossier: props.dossier } } })),
  enabled: computed(() => !template.value && asked.value.trim() !== ''),
  placeholderData: (before) => before,
})
const { data: blanks, error } = useQuery({
  queryKey: computed(() => ['documents', 'draft', 'blanks', template.value?.id, props.folder]),
  queryFn: () => data(api.GET('/documents/{id}/blanks', { params: { path: { id: template.value!.id }, query: { folder: props.folder } } })),
  enabled: computed(() => !!template.value),
  retry: false,
})
const name = ref('')
const values = ref<Record<string, string>>({})
watch(template, (o) => (name.value = o ? stemOf(o.name) : ''), { immediate: true })
watch(blanks, (all) => (values.value = Object.fromEntries((all ?? []).map((b) => [b.word, b.value]))), { immediate: true })
const choose = (o: Schemas['Place']) => (template.value = { id: o.id, name: o.name })
const ending = computed(() => extensionOf(template.value?.name ?? ''))

const router = useRouter()
/** Where what is made would be written on, if it is of a kind that is. */
const writes = computed(() => !!template.value && !!writtenAs('', template.value.name))
/** Makes it, and opens it for writing where that is wanted. */
async function make(open = false) {
  let made: Schemas['Place'] | undefined
  const did = await act(
    async () => {
      const body = { folder: props.folder, name: name.value, values: values.value }
      made = await data(api.POST('/documents/{id}/made', { params: { path: { id: template.value!.id } }, body }))
    },
    { done: () => t('templates.made', { ref: made?.ref, name: stemOf(made?.name ?? '') }) },
  )
  const at = open && made ? writtenAs(made.id, made.name) : undefined
  if (did && at) void router.push(at)
  else if (did && made) emit('made', made.id)
}
</script>

<template>
  <form class="make-from" @submit.prevent="make()" @keydown.esc.stop="$emit('discard')">
    <div v-if="!template" class="which">
      <input
        ref="first"
        v-model="words"
        class="form-control"
        :aria-label="t('templates.which')"
        :placeholder="t('templates.which')"
        autocomplete="off"
      />
      <ul v-if="found" class="found">
        <li v-for="o in found.documents" :key="o.id">
          <button type="button" @click="choose(o)">
            <span class="no quiet">{{ o.ref }}</span>
            {{ stemOf(o.name) }}
            <span class="quiet small">{{ extensionOf(o.name) }}</span>
          </button>
        </li>
        <li v-if="!found.documents.length" class="quiet small">{{ t('templates.noneFound') }}</li>
      </ul>
      <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
    </div>
    <template v-else>
      <p class="terms">{{ t('templates.from', { name: stemOf(template.name) }) }}</p>
      <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
      <template v-if="blanks">
        <label>
          <span>{{ t('templates.name') }}</span>
          <input ref="first" v-model="name" class="form-control" :aria-invalid="field === 'name'" />
          <span class="quiet small">{{ ending }}</span>
        </label>
        <label v-for="b in blanks" :key="b.word">
          <span>{{ b.word }}</span>
          <input v-model="values[b.word]" class="form-control" :aria-invalid="field === b.word" maxlength="2000" />
          <span class="quiet small">{{ b.of ? t('templates.known') : '' }}</span>
        </label>
        <p v-if="!blanks.length" class="quiet small">{{ t('templates.without') }}</p>
      </template>
      <div class="acts">
        <button type="submit" class="btn btn-primary" :disabled="busy || !blanks">{{ t('templates.make') }}</button>
        <button v-if="writes" type="button" class="btn btn-plain" :disabled="busy || !blanks" @click="make(true)">
          {{ t('templates.makeAndWrite') }}
        </button>
        <button type="button" class="btn btn-text" @click="$emit('discard')">{{ t('common.discard') }}</button>
        <span v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</span>
      </div>
    </template>
  </form>
</template>

<style scoped>
.make-from {
  display: grid;
  gap: var(--tb-s2);
  padding: var(--tb-s3) var(--tb-s5);
  border-bottom: 1px solid var(--tb-rule);
  background: var(--tb-page);
  max-height: 60vh;
  overflow: auto;
}
label {
  display: grid;
  grid-template-columns: minmax(90px, 160px) minmax(0, 360px) auto;
  gap: var(--tb-s3);
  align-items: center;
}
.which {
  display: grid;
  gap: var(--tb-s2);
  max-width: 520px;
  justify-items: start;
}
.found {
  list-style: none;
  margin: 0;
  padding: 0;
  width: 100%;
}
.found button {
  display: flex;
  gap: var(--tb-s3);
  align-items: baseline;
  width: 100%;
  min-height: 32px;
  border: 0;
  background: none;
  text-align: left;
  color: inherit;
}
.found button:hover {
  background: var(--tb-selection);
}
.acts {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
}
</style>
