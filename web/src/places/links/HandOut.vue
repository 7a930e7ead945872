<script setup lang="ts">
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import IconLink from '~icons/ph/link-simple'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { copyComing } from '../../app/clipboard'
import Failed from '../../app/Failed.vue'
import { tell } from '../../app/toasts'
import Door from '../../parts/Door.vue'
import Sheet from '../../parts/Sheet.vue'
import { useRemembered } from '../../queries/remembered'
import { useSaid } from '../../sentences/said'
import WritingSentence from '../../sentences/WritingSentence.vue'
import TypedField from '../terms/TypedField.vue'
import Remembered from '../remembered/Remembered.vue'
import AllowedField from './AllowedField.vue'
import LinkConsequence from './LinkConsequence.vue'
import LinkMade from './LinkMade.vue'
import LinkSide from './LinkSide.vue'
import PasswordApart from './PasswordApart.vue'
import TermGloss from './TermGloss.vue'
import { useWriting, type Term } from './writing'

/** The writing sheet: a link as a sentence, its consequences, and the link once it is made; or the terms of one that is out, to be changed. */
const props = defineProps<{ items: string[]; link?: Schemas['Link']; kind?: Schemas['LinkKind'] }>()
const emit = defineEmits<{ close: [] }>()
const { t } = useI18n()
const said = useSaid()
const writing = useWriting(props.items, props.link, props.kind)
const { terms, opened, gives, allowed, draft, error, refetch, refused, controls } = writing
const { act, busy, wrong } = useAct()
const made = ref<Schemas['Link']>()
const copied = ref(false)
const mainButton = ref<HTMLButtonElement>()
const allowedField = ref<InstanceType<typeof AllowedField>>()
const title = computed(() =>
  t(
    props.link
      ? 'handout.changeTitle'
      : terms.kind === 'fill'
        ? 'handout.titleFill'
        : gives.value
          ? 'handout.title'
          : 'handout.titleIntake',
    {
      what: props.link?.name ?? draft.value?.title ?? '…',
    },
  ),
)

function toggle(term: Term) {
  if (term === 'allowed') allowedField.value?.focus()
  else opened.value = opened.value === term ? undefined : term
}
function escape() {
  if (opened.value) opened.value = undefined
  else emit('close')
}
async function makeAndCopy() {
  const coming = writing.make()
  const copying = copyComing(coming.then((l) => l.address))
  const link = await coming
  copied.value = await copying
  made.value = link
  await nextTick()
  mainButton.value?.focus()
  return link
}
const make = () => act(makeAndCopy)
/** What was given before is offered until one writes oneself, and comes together with the sentence: nothing moves under the pointer. */
const writes = ref(false)
/** What is typed in one's own words; whoever goes on by hand keeps what it meant. */
const words = ref('')
watch(words, (now) => now && (writes.value = true))
watch(opened, () => {
  writes.value = true
  writing.typedIsKept()
  words.value = ''
})
const { data: remembered, isLoading: recalling } = useRemembered(
  () => ({ items: props.items, kind: props.kind, language: terms.language }),
  !props.link,
)
/** Sentence and offers come together. */
const ready = computed(() => !!draft.value && !recalling.value)
async function take(r: Schemas['Remembered']) {
  writes.value = await act(() => writing.take(r))
}
/** The same as before, to the same people. */
const again = (r: Schemas['Remembered']) =>
  act(async () => {
    await writing.take(r)
    const { id } = await makeAndCopy()
    if (!r.to.length) return
    await api.POST('/links/{id}/mail', { params: { path: { id } }, body: { to: r.to } })
    tell(t('handout.sent', { to: r.to.join(', ') }))
  })
async function change() {
  const { link } = props
  if (!link) return
  const done = await act(() => writing.change(link), { done: t('handout.changed', { name: terms.name || link.name }) })
  if (done) emit('close')
}

onMounted(() => {
  // What is given out stays in sight above the sheet.
  document.querySelector('.register tr[aria-selected=true]')?.scrollIntoView({ block: 'start' })
})
</script>

<template>
  <Sheet :busy="(!draft && !error) || recalling" :label="title" class="hand-out" @escape="escape">
    <div class="write">
      <div class="acts head">
        <h2 class="acts sheet-title">
          <Door state="open" />
          {{ title }}
        </h2>
        <slot v-if="!made && !link">
          <span class="small quiet only-wide">{{ t('handout.hint') }}</span>
        </slot>
      </div>
      <Failed v-if="error && !draft" :error="error" @again="refetch()" />
      <template v-if="ready && draft && !made">
        <WritingSentence :sentence="draft.sentence" :controls="controls" :open="opened" :refused="refused" @toggle="toggle">
          <TermGloss :writing="writing" />
        </WritingSentence>
        <TypedField
          v-model="words"
          :label="t('terms.typed')"
          :hint="t('terms.typedHint')"
          autofocus
          :take="writing.type"
          @enter="link ? change() : make()"
        />
        <div v-if="terms.kind === 'intake' && !link" class="expects">
          <label for="expected" class="small quiet">{{ t('handout.expected') }}</label>
          <textarea
            id="expected"
            v-model.lazy="terms.expected"
            class="form-control"
            rows="3"
            :placeholder="t('handout.expectedHint')"
          ></textarea>
        </div>
        <AllowedField ref="allowedField" :writing="writing" />
        <div class="plus-row">
          <button v-for="o in draft.offers" :key="o" type="button" class="plus" @click="writing.add(o)">
            {{ t(`handout.plus.${o}`) }}
          </button>
        </div>
        <p v-if="draft.ownUntil" class="small quiet">{{ t('access.ownUntil', { when: said.when(draft.ownUntil) }) }}</p>
        <p v-if="error || draft.refused" class="t-caution" role="alert">
          {{ error ? said.problem(error) : t(`problem.${draft.refused?.code}`) }}
        </p>
        <LinkConsequence v-if="gives" :draft="draft" :meant="!!allowed.length" :password="!!terms.password" />
      </template>
      <Remembered v-if="ready && remembered?.length && !made && !writes" :all="remembered" :busy="busy" @again="again" @take="take" />
      <LinkMade v-if="made" :link="made" :copied="copied" :password="terms.password" />
    </div>
    <div v-if="made" class="side">
      <PasswordApart v-if="terms.password" :name="made.name" :by="made.by" :password="terms.password" />
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <div class="acts end">
        <button ref="mainButton" type="button" class="btn btn-primary" @click="$emit('close')">{{ t('handout.done') }}</button>
      </div>
    </div>
    <div v-else class="side">
      <LinkSide :writing="writing" />
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
      <div class="acts end">
        <button v-if="link" ref="mainButton" type="button" class="btn btn-primary" :disabled="busy || !draft" @click="change">
          {{ t('handout.change') }}
        </button>
        <button
          v-else
          ref="mainButton"
          type="button"
          class="btn btn-primary"
          :disabled="busy || (!!error && !draft) || draft?.forbidden || !!draft?.refused"
          @click="make"
        >
          <IconLink aria-hidden="true" />
          {{ t('handout.make') }}
        </button>
        <button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button>
      </div>
    </div>
  </Sheet>
</template>

<style scoped>
.hand-out {
  overflow-y: auto;
}
@media (min-width: 901px) {
  .hand-out {
    max-height: calc(100% - 120px);
  }
}
.write {
  min-height: 214px;
}
.allowed .form-control {
  height: 30px;
}
.expects {
  margin: var(--tb-s2) 0;
}
</style>
