<script setup lang="ts">
import { useFound } from '../queries/documents'
import { useTypedAnswers } from '../queries/find'
import { refDebounced, useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'
import IconGlass from '~icons/ph/magnifying-glass'
import type { Schemas } from '../api/client'
import { stemOf } from '../i18n/words'
import Meant from '../sentences/Meant.vue'
import { isTyping } from '../parts/keys'
import { useDirectory } from '../queries/people'
import { useFinderActs } from './finderacts'
import { useSession } from './session'

/** Finds dossiers, folders and documents by number, name and what is written in them; / or Ctrl+K brings one here. */
const { t } = useI18n()
const router = useRouter()
const route = useRoute()
const field = ref<HTMLInputElement>()
const words = ref('')
const open = ref(false)
const at = ref(0)
const asked = refDebounced(words, 120)
/** A number alone means the dossier that is open. */
const { typed, begun } = useFinderActs()
/** An act that is typed, with what it is about: that is looked for then. */
const command = computed(() => typed(asked.value))
const sought = computed(() => command.value?.of ?? asked.value)
const { data: found } = useFound(sought, () => String(route.params.code ?? ''))
const { data: answers } = useTypedAnswers(() => (command.value ? '' : asked.value))
const store = useSession()
const { data: people } = useDirectory(() => store.session?.standing !== 'guest' && open.value)
interface Line {
  key: string
  to: RouteLocationRaw
  no: string
  text: string
  /** A word behind it. */
  more?: string
  /** What it puts into the field: it leads nowhere yet. */
  begins?: string
  /** What is written there, where that is what one finds it by. */
  written?: Schemas['FoundPart'][]
}
/** Documents whose name does not say why they are found: with the place where it stands. */
const written = computed<Line[]>(() => {
  const named = new Set(found.value?.documents.map((d) => d.id))
  return (answers.value?.hits ?? [])
    .filter((h) => h.snippet && !named.has(h.place.id))
    .map((h) => ({
      key: `${h.place.id} written`,
      to: { path: `/d/${h.place.ref}`, query: { look: '1', q: asked.value.trim(), page: h.page } },
      no: h.place.ref,
      text: stemOf(h.place.name),
      written: [{ text: h.page ? t('find.atPage', { n: h.page }) : '', meant: false }, ...near(h.snippet!)],
    }))
})
const fewNamed = 7
/** The beginning of a snippet is cut so that what is meant is in sight. */
function near(parts: Schemas['FoundPart'][]): Schemas['FoundPart'][] {
  const at = parts.findIndex((p) => p.meant)
  const before = parts[at - 1]?.text ?? ''
  return [...(at > 0 ? [{ text: before.length > 24 ? `…${before.slice(-22)}` : before, meant: false }] : []), ...parts.slice(at)]
}
/** Colleagues and guests by their names, with what they brought. */
const named = computed<Line[]>(() => {
  const keys = asked.value.trim().toLowerCase().split(/\s+/)
  if (asked.value.trim().length < 2) return []
  return (people.value?.accounts ?? [])
    .filter((a) =>
      keys.every((k) =>
        `${a.person.name} ${a.person.email}`
          .toLowerCase()
          .split(/[\s@.-]+/)
          .some((w) => w.startsWith(k)),
      ),
    )
    .slice(0, 4)
    .map((a) => ({
      key: a.person.id,
      to: { path: '/activity', query: { person: a.person.id } },
      no: '',
      text: a.person.name,
      more: t('finder.whatDone'),
    }))
})
/** What can be done, as far as it is typed. */
const doing = computed<Line[]>(() => {
  if (command.value?.of)
    return (found.value?.documents ?? []).slice(0, fewNamed).map((d) => ({
      key: `${d.id} act`,
      to: { path: `/d/${d.ref}`, query: { act: command.value!.act } },
      no: d.ref,
      text: t(`finder.acts.${command.value!.act}`),
      more: stemOf(d.name),
    }))
  return begun(asked.value).map((name) => ({
    key: name,
    to: '/dossiers?make=1',
    begins: name === 'makeDossier' ? undefined : `${t(`finder.acts.${name}`)} `,
    no: '',
    text: t(`finder.acts.${name}`),
    more: name === 'makeDossier' ? undefined : t('finder.which'),
  }))
})
const lines = computed<Line[]>(() => {
  if (command.value) return doing.value.length ? doing.value : [{ key: 'none', to: '', no: '', text: t('templates.noneFound') }]
  const dossiers = (found.value?.dossiers ?? []).map((d) => ({ key: d.id, to: `/dossiers/${d.code}`, no: d.code, text: d.name }))
  const folders = (found.value?.folders ?? []).map((f) => ({
    key: f.id,
    to: `/dossiers/${f.dossierCode}/${f.id}`,
    no: f.dossierCode,
    text: f.name,
  }))
  // Where something is found by what is written, there is a place left for it.
  const shown = written.value.length ? fewNamed : undefined
  const documents = (found.value?.documents ?? [])
    .slice(0, shown)
    .map((d) => ({ key: d.id, to: `/d/${d.ref}`, no: d.ref, text: stemOf(d.name) }))
  const numbered = /^(\S*\s*\/)?\s*\d+$/.test(asked.value.trim())
  const q = asked.value.trim()
  const all = { key: 'all', to: { path: '/find', query: { q } }, no: '', text: t('find.all', { q }) }
  const things = numbered
    ? [...documents, ...dossiers, ...folders]
    : [...doing.value, ...dossiers, ...folders, ...named.value, ...documents]
  return [...things, ...written.value, all]
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
const shown = computed(() => open.value && asked.value.trim() !== '' && (found.value !== undefined || lines.value.length > 0))

function go(line?: Line) {
  if (!line || (!line.to && !line.begins)) return
  if (line.begins) {
    words.value = line.begins
    at.value = 0
    return
  }
  open.value = false
  words.value = ''
  field.value?.blur()
  void router.push(line.to)
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
        @keydown.enter.prevent="go(lines[at])"
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
        @mousedown.prevent="go(l)"
        @mousemove="at = i"
      >
        <span class="no">{{ l.no }}</span>
        <span class="what">
          {{ l.text }}
          <span v-if="l.more" class="quiet">{{ l.more }}</span>
          <span v-if="l.written" class="written small"><Meant :parts="l.written" /></span>
        </span>
      </li>
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
}
.found .what {
  flex: 1;
  min-width: 0;
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
.found .written {
  display: block;
  color: var(--tb-quiet);
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
