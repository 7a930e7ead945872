<script setup lang="ts">
import { useFound } from '../queries/documents'
import { refDebounced, useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import IconGlass from '~icons/ph/magnifying-glass'
import { stemOf } from '../i18n/words'
import { isTyping } from '../parts/keys'

/** Finds dossiers, folders and documents by number or name; / or Ctrl+K brings one here. */
const { t } = useI18n()
const router = useRouter()
const route = useRoute()
const field = ref<HTMLInputElement>()
const words = ref('')
const open = ref(false)
const at = ref(0)
const asked = refDebounced(words, 120)
/** A number alone means the dossier that is open. */
const { data: found } = useFound(asked, () => String(route.params.code ?? ''))
const lines = computed(() => {
  const dossiers = (found.value?.dossiers ?? []).map((d) => ({ key: d.id, to: `/dossiers/${d.code}`, no: d.code, text: d.name }))
  const folders = (found.value?.folders ?? []).map((f) => ({
    key: f.id,
    to: `/dossiers/${f.dossierCode}/${f.id}`,
    no: f.dossierCode,
    text: f.name,
  }))
  const documents = (found.value?.documents ?? []).map((d) => ({ key: d.id, to: `/d/${d.ref}`, no: d.ref, text: stemOf(d.name) }))
  const numbered = /^(\S*\s*\/)?\s*\d+$/.test(asked.value.trim())
  return numbered ? [...documents, ...dossiers, ...folders] : [...dossiers, ...folders, ...documents]
})
/** On a narrow page the field stands over the band while one looks for something. */
const called = ref(false)
const narrow = useMediaQuery('(max-width: 900px)')
async function call() {
  called.value = true
  await nextTick()
  field.value?.focus()
}
function leave() {
  open.value = false
  called.value = false
}
const shown = computed(() => open.value && asked.value.trim() !== '' && found.value !== undefined)

function go(to?: string) {
  if (!to) return
  open.value = false
  words.value = ''
  field.value?.blur()
  void router.push(to)
}

useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  if ((e.key === '/' && !isTyping(e) && !e.ctrlKey && !e.metaKey) || (e.key === 'k' && (e.ctrlKey || e.metaKey))) {
    e.preventDefault()
    field.value?.focus()
  }
})
</script>

<template>
  <div class="finder-holder" :class="{ called }">
    <button v-if="narrow && !called" type="button" class="call" :aria-label="t('finder.label')" @click="call">
      <IconGlass aria-hidden="true" />
    </button>
    <label v-else class="finder">
      <IconGlass class="i i-s" aria-hidden="true" />
      <span class="visually-hidden">{{ t('finder.label') }}</span>
      <input
        ref="field"
        v-model="words"
        type="text"
        role="combobox"
        autocomplete="off"
        aria-autocomplete="list"
        aria-controls="found"
        :aria-expanded="shown"
        :aria-activedescendant="shown && lines[at] ? `found-${at}` : undefined"
        :placeholder="t('finder.label')"
        @focus="open = true"
        @blur="leave"
        @input="at = 0"
        @keydown.down.prevent="at = Math.min(at + 1, lines.length - 1)"
        @keydown.up.prevent="at = Math.max(at - 1, 0)"
        @keydown.enter.prevent="go(lines[at]?.to)"
        @keydown.esc="field?.blur()"
      />
      <kbd v-if="!words">/</kbd>
    </label>
    <ul v-if="shown" id="found" class="found" role="listbox" :aria-label="t('finder.label')">
      <li
        v-for="(l, i) in lines"
        :id="`found-${i}`"
        :key="l.key"
        role="option"
        :aria-selected="i === at"
        @mousedown.prevent="go(l.to)"
        @mousemove="at = i"
      >
        <span class="no">{{ l.no }}</span>
        {{ l.text }}
      </li>
      <li v-if="!lines.length" class="quiet" role="option" aria-selected="false">{{ t('finder.none', { q: asked }) }}</li>
    </ul>
  </div>
</template>

<style scoped>
.finder-holder {
  position: relative;
  margin: 0 12px 10px auto;
}
.finder {
  margin: 0;
}
.finder input {
  background: none;
  border: 0;
  outline: 0;
  color: var(--tb-band-ink);
  width: 100%;
  min-width: 0;
  font: inherit;
}
.finder input::placeholder {
  color: var(--tb-band-quiet);
  opacity: 1;
}
.finder:focus-within {
  border-color: var(--tb-band-ink);
}
.found {
  position: absolute;
  right: 0;
  top: 36px;
  width: 380px;
  z-index: var(--tb-layer-finder);
  background: var(--tb-sheet);
  color: var(--tb-ink);
  border: 1px solid var(--tb-rule);
  border-radius: 3px;
  box-shadow: 0 6px 20px var(--tb-shade);
  padding: var(--tb-s1) 0;
  font-size: var(--tb-text);
}
.found li {
  padding: 6px 12px;
  cursor: pointer;
  display: flex;
  gap: 10px;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.found .no {
  color: var(--tb-quiet);
  min-width: 84px;
}
@media (max-width: 900px) {
  .finder-holder {
    margin: 0 0 0 auto;
    position: static;
    align-self: center;
    display: flex;
  }
  .call {
    color: inherit;
    padding: var(--tb-s2);
  }
  .called .finder {
    position: absolute;
    inset: 6px 12px auto;
    z-index: var(--tb-layer-finder);
    background: var(--tb-band);
    width: auto;
  }
  .found {
    left: 12px;
    right: 12px;
    top: 46px;
    width: auto;
  }
}
.found [aria-selected='true'] {
  background: var(--tb-selection);
}
</style>
