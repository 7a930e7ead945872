<script setup lang="ts">
import Sheet from '../../parts/Sheet.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDossier } from '../../queries/dossiers'
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconMove from '~icons/ph/arrow-bend-down-right'
import { api } from '../../api/client'
import { useAct } from '../../app/act'
import { inPortions, useDoneWords, type Done } from '../../app/many'
import { stemOf } from '../../i18n/words'
import Consequences from './Consequences.vue'
import FolderGoals from './FolderGoals.vue'
import { useBodies } from './bodies'
import { useCopying } from './copying'

/**
 * Where something is moved to, as a sentence, with what that means for whom before it is done. What was deleted is brought
 * back there, by its deletions.
 */
const props = defineProps<{
  items: string[]
  names: string[]
  from: string
  here?: string
  to?: string
  copy?: boolean
  deletions?: string[]
}>()
const emit = defineEmits<{ close: []; onto: [folder: string] }>()
const { t } = useI18n()
const { act, wrong } = useAct()
const code = ref(props.from)
const folder = ref(props.to ?? '')
const moving = ref(false)

const bodies = useBodies()
const { data: body, refetch } = useDossier(code)
/** Where one may add; the dossier itself first. Nothing goes into itself. */
const folders = computed(() => {
  const all = body.value?.code === code.value ? body.value.folders : []
  const moved = all.filter((f) => props.items.includes(f.id))
  return all.filter((f) => f.may.includes('add') && !moved.some((m) => f.id === m.id || f.number.startsWith(`${m.number}.`)))
})
watch(
  folders,
  (all) => {
    // What it was dropped on is the one that is meant, also where it was just made.
    if (props.to && folder.value === props.to && !all.some((f) => f.id === props.to)) void refetch()
  },
  { immediate: true },
)
watch(
  () => props.to,
  (to) => to && (folder.value = to),
)
watch(code, () => (folder.value = ''))
/** Within the dossier it is moved at once where that changes nobody's access. */
function pick(id: string) {
  if (code.value === props.from) emit('onto', id)
  folder.value = id
}

const doing = computed(() => t(props.deletions ? 'deletion.bringBack' : props.copy ? 'copy.do' : 'move.do'))
const sentence = computed(() =>
  t(props.deletions ? 'deletion.bringBackTo' : props.copy ? 'copy.sentence' : 'move.sentence', { what: what.value }),
)
const goal = computed(() => ({ items: props.items, to: folder.value }))
const plan = computed(() => (props.deletions ? { bringBack: goal.value } : props.copy ? { copy: goal.value } : { move: goal.value }))
const copied = useCopying()
const partly = useDoneWords()
let done: Done<unknown>
const put = async () =>
  (done = props.deletions
    ? await inPortions(props.deletions, (ids) => api.POST('/deletions/return', { body: { ids, to: folder.value } }))
    : await inPortions(props.items, (items) => api.POST('/items/move', { body: { items, to: folder.value } })))
const what = computed(() => (props.names.length === 1 ? stemOf(props.names[0]) : t('move.things', { n: props.names.length })))
async function move() {
  moving.value = true
  const target = folders.value.find((f) => f.id === folder.value)
  const to = `${code.value} ${target?.number || ''} ${target?.name ?? ''}`.replace('  ', ' ')
  const did = props.copy
    ? copied(goal.value, props.names, to, !!target?.may.includes('delete'))
    : act(put, { done: () => partly(done, t('move.moved', { what: what.value, to }, props.names.length)) })
  if (await did) emit('close')
  moving.value = false
}
</script>

<template>
  <Sheet class="move" :busy="!body" :label="`${doing}: ${what}`" @escape="$emit('close')">
    <div class="write">
      <h2 class="acts sheet-title">
        <IconMove aria-hidden="true" />
        {{ doing }}
      </h2>
      <p class="terms">
        {{ sentence }}
        <SentenceSelect v-model="code" :label="t('move.dossier')" :options="bodies" :then="folders.length ? ':' : '.'" />
      </p>
      <FolderGoals :key="code" :folders="folders" :chosen="folder" :shut="!copy && code === from ? here : undefined" @pick="pick" />
      <p v-if="body?.code === code && !folders.length" class="t-caution">{{ t('move.nowhere') }}</p>
      <p v-else-if="code !== from && !copy" class="small quiet">{{ t('move.numbers') }}</p>
      <div v-if="folder && folders.length" class="consequence">
        <div>
          <span></span>
          <Consequences :key="folder" :what="plan" />
          <span></span>
        </div>
      </div>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    </div>
    <div class="side">
      <p class="small quiet">{{ t(copy ? 'copy.hint' : 'move.hint') }}</p>
      <div class="acts end">
        <button type="button" class="btn btn-primary" :disabled="!folder || !folders.length || moving" @click="move">
          {{ doing }}
        </button>
        <button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button>
      </div>
    </div>
  </Sheet>
</template>

<style scoped>
.write {
  min-height: 168px;
  display: flex;
  flex-direction: column;
  gap: var(--tb-s2);
}
</style>
