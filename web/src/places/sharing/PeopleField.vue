<script setup lang="ts">
import { useLikely } from '../../queries/sharing'
import { refDebounced } from '@vueuse/core'
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconEnvelope from '~icons/ph/envelope-simple'
import { type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useSession } from '../../app/session'
import Door from '../../parts/Door.vue'
import { isAddress, readSpoken } from './spoken'
import { useAccessWords } from './words'

/** Whom access is given to: likely people are there when it opens, each with the reason and what they would gain. */
export interface Named {
  kind: Schemas['SubjectKind']
  id?: string
  email?: string
  name: string
  outside?: boolean
  /** The address of somebody outside who has an account. */
  address?: string
}
const props = defineProps<{ items: string[]; modelValue: Named[]; hint?: string }>()
const emit = defineEmits<{ 'update:modelValue': [all: Named[]]; terms: [r: Schemas['TypedTerms']] }>()
/** What is typed and means nobody yet. */
const rest = defineModel<string>('rest', { default: '' })
const { t, locale } = useI18n()
const said = useSaid()
const store = useSession()
const words = useAccessWords()
const typed = ref('')
const asked = refDebounced(typed, 120)
const at = ref(0)
const open = ref(true)
const field = ref<HTMLInputElement>()
const { data: likely, isPlaceholderData } = useLikely(() => props.items, asked)
const offered = computed(() => (likely.value ?? []).filter((s) => !props.modelValue.some((n) => n.kind === s.kind && n.id === s.id)))
watch(typed, (now) => (rest.value = now.trim()))
/** What was typed in one go with commas in it is read part by part. */
async function readAll() {
  const asked = typed.value
  const found = await readSpoken(props.items, asked, locale.value as 'en' | 'de')
  if (typed.value !== asked) return
  for (const r of found.terms) emit('terms', r)
  const more = found.people
    .map((p): Named =>
      'kind' in p
        ? {
            kind: p.kind,
            id: p.id,
            name: words.who(p, store.practice?.name ?? ''),
            outside: p.outside,
            address: p.outside ? p.email : undefined,
          }
        : { kind: 'person', email: p.email, name: p.email, outside: true },
    )
    .filter((n) => !props.modelValue.some((o) => (n.id ? o.id === n.id : o.email === n.email)))
  if (more.length) emit('update:modelValue', [...props.modelValue, ...more])
  typed.value = found.left
}
watch(offered, () => (at.value = 0))
/** Whether the list answers what is typed. Who is quicker than it is taken once it does. */
const fresh = computed(() => asked.value === typed.value && !isPlaceholderData.value)
const waiting = ref(false)
watch(fresh, (is) => {
  if (!is || !waiting.value) return
  waiting.value = false
  void nextTick(choose)
})
function choose() {
  // A whole address that nobody offered has is an invitation.
  if (isAddress(typed.value) && !offered.value.some((s) => s.email === typed.value.trim())) take(-1)
  else if (open.value) take(at.value)
}

function add(n: Named) {
  emit('update:modelValue', [...props.modelValue, n])
  typed.value = ''
  open.value = false
  void nextTick(() => field.value?.focus())
}
function leaveOut(at: number) {
  emit(
    'update:modelValue',
    props.modelValue.filter((_, j) => j !== at),
  )
}
function take(i: number) {
  const s = offered.value[i]
  if (s)
    add({
      kind: s.kind,
      id: s.id,
      name: words.who(s, store.practice?.name ?? ''),
      outside: s.outside,
      address: s.outside ? s.email : undefined,
    })
  else if (isAddress(typed.value)) add({ kind: 'person', email: typed.value.trim(), name: typed.value.trim(), outside: true })
}
function key(e: KeyboardEvent) {
  if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
    e.preventDefault()
    open.value = true
    at.value = Math.max(0, Math.min(offered.value.length - 1, at.value + (e.key === 'ArrowDown' ? 1 : -1)))
  } else if (e.key === 'Enter' && typed.value.includes(',')) {
    e.preventDefault()
    void readAll()
  } else if (e.key === 'Enter') {
    e.preventDefault()
    if (fresh.value) choose()
    else waiting.value = true
  } else if (e.key === 'Backspace' && !typed.value && props.modelValue.length) {
    emit('update:modelValue', props.modelValue.slice(0, -1))
  } else if (e.key === 'Escape' && open.value && props.modelValue.length) {
    e.stopPropagation()
    open.value = false
  }
}
function leave() {
  open.value = props.modelValue.length === 0
  if (typed.value.includes(',')) void readAll()
}
const reason = (s: Schemas['Suggested']) => {
  if (s.members) return s.members.map((m) => m.split(' ')[0]).join(', ')
  if (!s.reason) return s.email ?? ''
  return t(`access.reason.${s.reason}`, { dossier: s.reasonDossier, when: s.reasonAt ? said.when(s.reasonAt) : '' })
}
const gains = (s: Schemas['Suggested']) => (s.gains ? t('access.gains', { n: s.gains, all: s.gains + s.could }) : t('access.canAll'))
onMounted(() => field.value?.focus())
</script>

<template>
  <div class="people-field">
    <div class="line terms">
      <span v-for="(n, i) in modelValue" :key="i" :class="{ 'with-comma': i < modelValue.length - 1 }">
        <button
          type="button"
          class="w"
          :class="{ invite: n.email }"
          :aria-label="t('access.leaveOut', { name: n.name })"
          :title="t('access.leaveOut', { name: n.name })"
          @click="leaveOut(i)"
        >
          {{ n.name }}
        </button>
      </span>
      <input
        ref="field"
        v-model="typed"
        class="ask"
        role="combobox"
        :aria-expanded="open"
        aria-controls="likely"
        aria-autocomplete="list"
        :aria-activedescendant="open && offered[at] ? `likely-${at}` : undefined"
        :aria-label="t('access.whoLabel')"
        :placeholder="modelValue.length ? t('access.more') : (hint ?? t('access.whoHint'))"
        autocomplete="off"
        spellcheck="false"
        @focus="open = true"
        @input="open = true"
        @keydown="key"
        @blur="leave"
      />
    </div>
    <div v-show="open" class="gloss who-list" @mousedown.prevent>
      <ul id="likely" role="listbox" :aria-label="t('access.likely')">
        <li
          v-for="(s, i) in offered"
          :id="`likely-${i}`"
          :key="`${s.kind}${s.id}`"
          role="option"
          :aria-selected="i === at"
          @click="take(i)"
        >
          <Door :state="s.outside ? 'ajar' : 'closed'" />
          <b>{{ words.who(s, store.practice?.name ?? '') }}</b>
          <span class="quiet c2">
            {{ s.organisation || (s.members ? t('access.groupOf', { n: s.members.length }, s.members.length) : '') }}
          </span>
          <span class="c3">{{ reason(s) }}</span>
          <span class="g">{{ gains(s) }}</span>
        </li>
      </ul>
      <p class="hint">
        <IconEnvelope class="i" aria-hidden="true" />
        <button v-if="isAddress(typed) && !offered.length" type="button" class="go" @click="take(-1)">
          {{ t('access.invite', { email: typed.trim() }) }}
        </button>
        <span v-else>{{ t(offered.length ? 'access.inviteHint' : 'access.nobody') }}</span>
      </p>
    </div>
  </div>
</template>

<style scoped>
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0 2px;
  white-space: pre-wrap;
  font-size: var(--tb-write);
  line-height: 32px;
}
.w.invite {
  text-decoration-style: dashed;
}
.ask {
  border: 1px solid transparent;
  border-bottom: 2px solid var(--tb-action);
  background: transparent;
  color: var(--tb-ink);
  font: inherit;
  min-width: 220px;
  flex: 1;
  max-width: 420px;
  padding: 0 var(--tb-s1);
  outline-offset: 2px;
}
span + .ask {
  margin-left: var(--tb-s2);
}
.ask::placeholder {
  color: var(--tb-quiet);
  font-size: var(--tb-lead);
}
.who-list {
  padding: var(--tb-s1) 0;
  margin-top: 2px;
}
.who-list li {
  display: grid;
  grid-template-columns: 28px minmax(120px, auto) minmax(0, 110px) minmax(0, 1fr) auto;
  gap: 0 var(--tb-s2);
  align-items: center;
  min-height: 30px;
  padding: 0 var(--tb-s4);
  cursor: pointer;
  font-size: var(--tb-text);
}
.who-list li > * {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.who-list li[aria-selected='true'] {
  background: var(--tb-sheet);
  box-shadow: inset 3px 0 0 var(--tb-action);
}
.who-list b {
  font-weight: 560;
}
.g {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.hint {
  display: grid;
  grid-template-columns: 28px 1fr;
  padding: 5px 16px 2px;
  margin: 2px 0 0;
  border-top: 1px solid var(--tb-rule);
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.go {
  color: var(--tb-action);
  text-align: left;
}
@media (max-width: 900px) {
  .who-list li {
    grid-template-columns: 28px 1fr auto;
  }
  .c2,
  .c3 {
    display: none;
  }
  .ask {
    min-width: 140px;
  }
}
</style>
