<script setup lang="ts">
import { useMutation, useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, nextTick, onMounted, reactive, ref, watch } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import IconCopy from '~icons/ph/copy'
import IconEye from '~icons/ph/eye'
import IconLink from '~icons/ph/link-simple'
import { api, data, type Schemas } from '../../api/client'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/notices'
import { useSaid } from '../../app/said'
import { useSession } from '../../app/session'
import Door from '../../parts/Door.vue'
import Failed from '../../parts/Failed.vue'
import LinkMade from './LinkMade.vue'
import UntilGloss from './UntilGloss.vue'
import WritingSentence from './WritingSentence.vue'

/** The writing sheet: a hand-out link as a sentence, its consequences, and the link once it is made. */
type Term = NonNullable<Schemas['Part']['term']>
const props = defineProps<{ items: string[] }>()
const emit = defineEmits<{ close: [] }>()
const { t, locale } = useI18n()
const said = useSaid()
const store = useSession()
const queries = useQueryClient()
const terms = reactive<{ name: string; until?: string; openings?: number; password?: string; newest: boolean }>({ name: '', newest: false })
const opened = ref<Term>()
const makeButton = ref<HTMLButtonElement>()
const doneButton = ref<HTMLButtonElement>()
const copied = ref(false)

const body = computed(() => ({ items: props.items, name: terms.name || undefined, until: terms.until, openings: terms.openings, password: terms.password || undefined, newest: terms.newest, language: locale.value as 'en' | 'de' }))
const { data: draft, error, refetch } = useQuery({ queryKey: ['draft', body], queryFn: () => data(api.POST('/links/draft', { body: body.value })), placeholderData: (before) => before, staleTime: 5_000, gcTime: 0 })
const controls = computed<Term[]>(() => ['until', 'version', ...(terms.password !== undefined ? (['password'] as Term[]) : []), ...(terms.openings !== undefined ? (['openings'] as Term[]) : [])])
const isFolder = computed(() => !/\/\d/.test(draft.value?.title ?? '') && props.items.length === 1)

const make = useMutation({
  mutationFn: () => data(api.POST('/links', { body: body.value })),
  onSuccess: async (link) => {
    copied.value = !!link.address && (await copyText(link.address))
    void queries.invalidateQueries({ predicate: (q) => q.queryKey[0] !== 'draft' })
  },
})
const link = computed(() => make.data.value)

async function offerPassword() {
  terms.password = (await data(api.POST('/links/password'))).password
}
async function add(term: 'password' | 'openings' | 'until') {
  if (term === 'password') await offerPassword()
  if (term === 'openings') terms.openings = 1
  opened.value = term
}
function toggle(term: Term) {
  opened.value = opened.value === term ? undefined : term
}
function drop(term: 'password' | 'openings') {
  terms[term] = undefined
  opened.value = undefined
}
function escape() {
  if (opened.value) opened.value = undefined
  else emit('close')
}

onMounted(() => {
  makeButton.value?.focus()
  // What is given out stays in sight above the sheet.
  document.querySelector('.register tr[aria-selected=true]')?.scrollIntoView({ block: 'nearest' })
})
watch(link, async (l) => {
  if (!l) return
  await nextTick()
  doneButton.value?.focus()
})
</script>

<template>
  <section class="desk-sheet" role="dialog" :aria-label="t('handout.title', { what: draft?.title ?? '' })" @keydown.esc.stop="escape">
    <div class="write">
      <div class="acts head"><h3 class="acts"><Door state="open" />{{ t('handout.title', { what: draft?.title ?? '…' }) }}</h3><span v-if="!link" class="small quiet only-wide">{{ t('handout.hint') }}</span></div>
      <Failed v-if="error && !draft" :error="error" @again="refetch()" />
      <template v-if="draft && !link">
        <WritingSentence :sentence="draft.sentence" :controls="controls" :open="opened" @toggle="toggle">
          <UntilGloss v-if="opened === 'until'" :until="terms.until ?? draft.usualUntil" :latest="draft.latestUntil" @set="terms.until = $event" />
          <div v-else-if="opened === 'openings'" class="acts row-gloss"><label for="openings">{{ t('handout.openings') }}</label><input id="openings" v-model.number="terms.openings" class="form-control" type="number" min="1" max="100000"><span>{{ t('handout.openingsUnit') }}</span><button v-for="n in [1, 3, 5, 10]" :key="n" type="button" @click="terms.openings = n">{{ n }}</button><button type="button" class="far" @click="drop('openings')">{{ t('handout.noLimit') }}</button></div>
          <div v-else-if="opened === 'password'" class="acts row-gloss"><label for="password">{{ t('handout.password') }}</label><input id="password" v-model="terms.password" class="form-control no" autocomplete="off" spellcheck="false" style="width: 240px"><button type="button" @click="offerPassword">{{ t('handout.offer') }}</button><button type="button" class="far" @click="drop('password')">{{ t('handout.noPassword') }}</button></div>
          <div v-else-if="opened === 'version'" role="radiogroup" class="choices"><button v-for="newest in [false, true]" :key="String(newest)" type="button" role="radio" :aria-checked="terms.newest === newest" @click="terms.newest = newest"><b>{{ t(`handout.${newest ? 'newest' : 'this'}${isFolder ? 'Folder' : 'Version'}`) }}</b> <span class="quiet">{{ t(newest ? 'handout.newestWhy' : 'handout.thisVersionWhy') }}</span></button></div>
        </WritingSentence>
        <div class="plus-row"><button v-for="o in draft.offers" :key="o" type="button" class="plus" @click="add(o)">{{ t(`handout.plus.${o}`) }}</button></div>
        <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
        <div class="consequence"><div><IconEye aria-hidden="true" /><span><I18nT :keypath="terms.password ? 'handout.both' : 'handout.newly'" scope="global"><template #files><b>{{ t('common.files', { n: draft.files }, draft.files) }}</b></template><template #size>{{ said.size(draft.bytes) }}</template></I18nT> {{ !draft.linkedBefore ? t('handout.beforeNone') : draft.files === 1 ? t('handout.beforeOne') : t('handout.before', { n: said.count(draft.linkedBefore) }, draft.linkedBefore) }} <span class="quiet">{{ t('handout.view') }}</span></span><span></span></div></div>
      </template>
      <LinkMade v-if="link" :link="link" :copied="copied" :password="terms.password" />
    </div>
    <div class="side">
      <template v-if="!link">
        <div><label for="link-name" class="small quiet">{{ t('handout.name') }}</label><input id="link-name" v-model="terms.name" class="form-control" :placeholder="draft?.name"><p class="small quiet" style="margin-top: 4px">{{ t('handout.nameHint') }}</p></div>
        <p v-if="make.error.value" class="t-caution" role="alert">{{ said.problem(make.error.value) }}</p>
        <div class="acts end"><button ref="makeButton" type="button" class="btn btn-primary" :disabled="make.isPending.value || (!!error && !draft)" @click="make.mutate()"><IconLink aria-hidden="true" />{{ t('handout.make') }}</button><button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button></div>
      </template>
      <template v-else>
        <div v-if="terms.password"><h3>{{ t('handout.passwordOwn') }}</h3><p class="small quiet" style="margin: 2px 0 8px">{{ t('handout.passwordWhy') }}</p>
          <blockquote class="terms"><I18nT keypath="handout.passwordText" scope="global"><template #name>{{ link.name }}</template><template #practice>{{ store.practice?.name }}</template><template #password><b class="no nb">{{ terms.password }}</b></template><template #me>{{ link.by }}</template></I18nT></blockquote>
          <button type="button" class="btn btn-plain btn-small" @click="copyText(t('handout.passwordText', { name: link.name, practice: store.practice?.name, password: terms.password, me: link.by })).then((ok) => ok && tell(t('handout.passwordCopied')))"><IconCopy class="i i-s" aria-hidden="true" />{{ t('handout.copyMessage') }}</button></div>
        <div class="acts end"><button ref="doneButton" type="button" class="btn btn-primary" @click="$emit('close')">{{ t('handout.done') }}</button></div>
      </template>
    </div>
  </section>
</template>

<style scoped>
.desk-sheet { z-index: 20; max-height: calc(100% - 120px); overflow-y: auto; }
.write { padding: 16px 28px 14px 20px; min-width: 0; }
.head { justify-content: space-between; margin-bottom: 8px; }
.side { border-left: 1px solid var(--tb-line); padding: 16px 20px; display: flex; flex-direction: column; gap: 12px; }
.end { margin-top: auto; border-top: 1px solid var(--tb-line); padding-top: 12px; }
.row-gloss { gap: 8px 14px; flex-wrap: wrap; } .row-gloss .form-control { width: 84px; height: 30px; background: var(--tb-sheet); } .row-gloss button, .choices b { color: var(--tb-action); } .row-gloss .far { margin-left: auto; }
.choices { display: grid; gap: 6px; } .choices button { text-align: left; padding: 3px 8px; border: 1px solid transparent; border-radius: 3px; } .choices [aria-checked=true] { border-color: var(--tb-action); background: var(--tb-sheet); } .choices b { font-weight: 600; }
blockquote { font-size: .9375rem; line-height: 1.375rem; margin: 0 0 8px; padding-left: 12px; border-left: 2px solid var(--tb-rule); }
@media (max-width: 900px) {
  .desk-sheet { position: fixed; left: 0; inset: 0; top: 0; max-height: none; z-index: 1034; display: flex; flex-direction: column; }
  .write { padding: 14px 16px; } .side { border-left: 0; border-top: 1px solid var(--tb-line); flex: 1; } .end .btn-primary { flex: 1; justify-content: center; min-height: 44px; }
}
</style>
