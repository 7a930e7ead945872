<script setup lang="ts">
import { computed, ref } from 'vue'
import IconPlus from '~icons/ph/file-plus'
import { sizeWords } from '../i18n/words'
import { progress } from '../uploads/coming'
import { chosen, dropped } from '../uploads/dropped'
import { useBringing } from './bringing'
import { language, say } from './words'

/** Where a visitor who works in a folder adds papers, or brings a changed one. */
const props = defineProps<{ token: string; folder?: string }>()
const emit = defineEmits<{ arrived: [] }>()
const over = ref(false)
const bringing = useBringing(props.token, () => emit('arrived'))
const coming = computed(() => bringing.all.value.filter((f) => f.state !== 'done'))
function choose(e: Event) {
  const input = e.target as HTMLInputElement
  if (input.files) bringing.bring(chosen(input.files), { folder: props.folder })
  input.value = ''
}
async function drop(e: DragEvent) {
  over.value = false
  if (e.dataTransfer) bringing.bring(await dropped(e.dataTransfer), { folder: props.folder })
}
</script>

<template>
  <div class="add" :class="{ over }" @dragover.prevent="over = true" @dragleave.self="over = false" @drop.prevent="drop">
    <IconPlus aria-hidden="true" />
    <div>
      <p>
        <b>{{ say('dropHere') }}</b>
        {{ ' ' }}
        <span class="quiet">{{ say('dropHow') }}</span>
        {{ ' ' }}
        <label class="go">
          {{ say('chooseThem') }}
          <input type="file" class="visually-hidden" multiple @change="choose" />
        </label>
      </p>
      <p class="small quiet">{{ say('sameName') }}</p>
      <p v-for="f in coming" :key="f.id" class="small">
        <b v-if="f.state !== 'refused'">{{ progress.percent(f) }} %</b>
        {{ progress.name(f) }},
        <span v-if="f.state === 'refused'" role="alert">{{ say('notTaken') }}</span>
        <span v-else class="quiet">{{ f.offline ? say('goesOn') : sizeWords(f.size, language) }}</span>
      </p>
    </div>
  </div>
</template>

<style scoped>
.add {
  display: grid;
  grid-template-columns: 44px 1fr;
  border: 1px dashed var(--tb-edge);
  border-radius: 3px;
  padding: 14px 16px 14px 10px;
  margin: var(--tb-s5) 0 0;
  font-size: var(--tb-read);
}
.over {
  border-color: var(--tb-action);
  background: var(--tb-page);
}
.add b {
  font-weight: 600;
}
.go {
  color: var(--tb-action);
  cursor: pointer;
}
.go:focus-within {
  outline: 2px solid var(--tb-action);
  outline-offset: 2px;
}
</style>
