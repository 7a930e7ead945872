<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import { useVersions } from './acts'

/** One version: who made it, when and how; what is said of it; and what can be done with it. */
const props = defineProps<{ document: Schemas['Document']; version: Schemas['Version']; folded: Schemas['Version'][]; unfolded: boolean }>()
defineEmits<{ look: []; fold: [] }>()
const { t } = useI18n()
const said = useSaid()
const acts = useVersions(() => props.document.id)
const { busy, wrong } = acts
const may = (cap: string) => props.document.may.includes(cap)
const there = computed(() => !props.version.removed && !props.version.movedTo)
const opened = ref(false)
/** What is being said of it. */
const saying = ref<'title' | 'note'>()
const words = ref('')
const field = ref<HTMLInputElement>()

/** Who or what made it, and when. */
const maker = computed(() => {
  const { by: actor, at } = props.version
  const when = said.when(at)
  const { kind, name: by, linkName: link } = actor
  if (kind === 'visitor')
    return link
      ? t(by ? 'slip.byVisitorOf' : 'slip.bySomeVisitorOf', { by, link, when })
      : t(by ? 'slip.byVisitor' : 'slip.bySomeVisitor', { by, when })
  return t(kind === 'person' ? 'slip.bySomebody' : `slip.byKind.${kind}`, { by, when })
})
const how = computed(() => {
  const v = props.version
  if (v.movedTo) return t('slip.movedTo', { ref: v.movedTo })
  if (v.removed && !v.removed.by) return t('versions.removedByRule', { when: said.when(v.removed.at) })
  if (v.removed) return t('versions.removedBy', { by: v.removed.by, when: said.when(v.removed.at) })
  return v.backFrom ? t('versions.from', { n: v.backFrom }) : t(`versions.origin.${v.origin}`)
})
async function say(what: 'title' | 'note') {
  saying.value = what
  words.value = props.version[what] ?? ''
  await nextTick()
  field.value?.select()
}
async function keep() {
  const what = saying.value
  if (what && (await acts.describe(props.version.number, { [what]: words.value.trim() }))) saying.value = undefined
}
</script>

<template>
  <li :class="{ gone: !there, counts: version.counts }" :data-version="version.number">
    <span class="bubble" aria-hidden="true">{{ version.number }}</span>
    <div>
      <button type="button" class="made-by" :aria-expanded="opened" @click="opened = !opened">
        <span class="visually-hidden">{{ t('versions.number', { n: version.number }) }}</span>
        {{ maker }}
      </button>
      <b v-if="version.title" class="title">{{ version.title }}</b>
      <span class="s">
        {{ how }}
        <template v-if="version.note">“{{ version.note }}”</template>
        <template v-if="folded.length">
          {{ t('versions.folded', { n: folded.length + 1, from: said.when(folded[folded.length - 1]!.at) }) }}
          <button type="button" class="go" :aria-expanded="unfolded" @click="$emit('fold')">
            {{ t(unfolded ? 'versions.fold' : 'versions.unfold') }}
          </button>
        </template>
        <template v-if="version.removed">
          <br />
          {{ t('versions.left', { n: version.removed.left, when: said.day(version.removed.goes) }, version.removed.left) }}
        </template>
      </span>
      <template v-if="opened">
        <span class="s">
          {{ said.size(version.size) }},
          <span class="no" :title="version.sha256">SHA-256 {{ version.sha256.slice(0, 12) }}…</span>
        </span>
        <form v-if="saying" class="say" @submit.prevent="keep" @keydown.esc.stop="saying = undefined">
          <input
            ref="field"
            v-model="words"
            class="form-control"
            :maxlength="saying === 'title' ? 100 : 200"
            :aria-label="t(`versions.${saying}`)"
          />
          <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('versions.keep') }}</button>
        </form>
        <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
        <div class="acts small">
          <a
            v-if="there && may('download')"
            class="go"
            :href="`/api/documents/${document.id}/content?version=${version.number}&download`"
            download
          >
            {{ t('common.download') }}
          </a>
          <template v-if="there && may('change')">
            <button type="button" class="go" @click="say('title')">
              {{ t(version.title ? 'versions.rename' : 'versions.giveTitle') }}
            </button>
            <button type="button" class="go" @click="say('note')">{{ t('versions.giveNote') }}</button>
          </template>
          <button v-if="version.separable" type="button" class="go" :disabled="busy" @click="acts.keepApart(version.number)">
            {{ t('slip.apart') }}
          </button>
          <button v-if="version.removable" type="button" class="go" :disabled="busy" @click="acts.remove(version.number)">
            {{ t('versions.remove') }}
          </button>
          <span v-if="version.title && there && may('change')" class="quiet">{{ t('versions.namedStays') }}</span>
        </div>
      </template>
    </div>
    <div class="acts small side">
      <span v-if="version.counts" class="t-done">{{ t('versions.countsHere') }}</span>
      <template v-if="there">
        <button type="button" class="go" @click="$emit('look')">{{ t('versions.look') }}</button>
        <RouterLink v-if="!version.counts && may('download')" class="go" :to="`/compare/${document.id}?from=${version.number}`">
          {{ t('comparison.compare') }}
        </RouterLink>
        <button v-if="!version.counts && may('change')" type="button" class="go" :disabled="busy" @click="acts.bringBack(version.number)">
          {{ t('versions.bringBack') }}
        </button>
      </template>
      <button v-if="version.removed?.mayRestore" type="button" class="go" :disabled="busy" @click="acts.restore(version.number)">
        {{ t('versions.restore') }}
      </button>
    </div>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 26px minmax(0, 1fr) auto;
  gap: 0 var(--tb-s2);
  padding: 6px 0;
  font-size: var(--tb-text);
  line-height: 18px;
  position: relative;
}
/* The line on which they stand. */
li:not(:last-child)::before {
  content: '';
  position: absolute;
  left: 10px;
  top: 28px;
  bottom: -6px;
  border-left: 2px solid var(--tb-ink);
}
.gone::before {
  border-left-style: dotted;
}
.bubble {
  width: 22px;
  height: 22px;
  border: 1px solid var(--tb-ink);
  border-radius: 50%;
  display: grid;
  place-items: center;
  font-size: var(--tb-small);
  background: var(--tb-sheet);
}
.counts .bubble {
  background: var(--tb-ink);
  color: var(--tb-sheet);
}
.gone .bubble {
  border-style: dashed;
}
.gone {
  color: var(--tb-quiet);
}
.made-by {
  text-align: left;
  min-height: 24px;
}
.title {
  display: block;
  font-family: 'Literata Variable', Literata, Charter, serif;
}
.s {
  display: block;
  color: var(--tb-quiet);
  font-size: var(--tb-small);
}
.acts {
  flex-wrap: wrap;
  gap: 0 10px;
}
.side {
  flex-direction: column;
  align-items: flex-end;
}
.say {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--tb-s2);
  margin: var(--tb-s1) 0;
}
.say .form-control {
  height: 30px;
}
</style>
