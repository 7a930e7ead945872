<script setup lang="ts">
import { refDebounced } from '@vueuse/core'
import { computed, reactive, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import IconSign from '~icons/ph/signature'
import { api, data as answer, sendFile, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDossier, useDossiers } from '../../queries/dossiers'
import { useForm, useFormUse } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import PeopleField from '../sharing/PeopleField.vue'
import FormLook from './FormLook.vue'
import Letter from './Letter.vue'
import PaperFrame from './PaperFrame.vue'
import { letterOf } from './placing'
import { useRows, type Row } from './rows'
import RowsTable from './RowsTable.vue'

/** A form is sent, as a sentence: to whom, into which folder; to many from a list or a table, each with a paper of their own. */
const props = defineProps<{ id: string }>()
const { t, locale } = useI18n()
const said = useSaid()
const router = useRouter()
const at = useRoute()
const { data: page, error: missing } = useForm(() => props.id)

const { data: dossiers } = useDossiers()
const code = ref(typeof at.query.dossier === 'string' ? at.query.dossier : '')
watch(page, (p) => (code.value ||= p?.form.ref.split('/')[0] ?? ''), { immediate: true })
const { data: body } = useDossier(code)
const folders = computed(() =>
  body.value?.code === code.value ? body.value.folders.filter((f) => f.may.includes('add') && f.may.includes('change')) : [],
)
const folder = ref(typeof at.query.folder === 'string' ? at.query.folder : '')
watch(folders, (all) => {
  if (all.length && !all.some((f) => f.id === folder.value)) folder.value = all[0]!.id
})

const asked = computed(() => use.value?.asked ?? askedOf(page.value))
const askedOf = (p?: Schemas['FormPage']) => (p?.definition.plan.parties ?? []).flatMap((one, i) => (one.person || one.email ? [] : [i]))
const { to, rows, table, bring, clear, remove, many } = useRows(computed(() => askedOf(page.value).length))
const rest = ref('')
const terms = reactive({ days: 0, known: '' as '' | 'link' | 'code' | 'sign-in', message: '', password: '' })
watch(
  page,
  (p) => {
    if (p && !terms.days) Object.assign(terms, { days: p.definition.days || 14, message: p.definition.message })
  },
  { immediate: true },
)
const wish = computed<Schemas['FormUse'] | undefined>(() =>
  folder.value
    ? {
        folder: folder.value,
        rows: rows.value.map((r) => ({ people: r.people.map((p) => ({ ...p })), values: { ...r.values } })),
        days: terms.days || undefined,
        known: terms.known || undefined,
      }
    : undefined,
)
const wished = refDebounced(wish, 250)
const { data: use, error } = useFormUse(() => props.id, wished)
const parties = computed(() => use.value?.definition.plan.parties ?? page.value?.definition.plan.parties ?? [])
const told = computed(() => use.value?.definition.told ?? false)
const problems = computed(() => use.value?.problems ?? [])
const first = computed(() => (asked.value.length && !rows.value.length ? undefined : problems.value[0]))
const says = computed(() => {
  if (error.value) return said.problem(error.value)
  if (asked.value.length && !rows.value.length) return t('signforms.whoFirst')
  if (rest.value) return t('signforms.restLeft', { rest: rest.value })
  const p = first.value
  if (p) {
    const [row] = p.at.split('/')
    return many.value
      ? t('signforms.lineWrong', { n: Number(row) + 1, what: t(`signforms.flaw.${p.flaw}`, { n: p.other + 1 }) })
      : t(`signforms.flaw.${p.flaw}`, { n: p.other + 1 })
  }
  if (told.value && terms.password.length < 6) return t('signforms.passwordFirst')
  return ''
})
const fresh = computed(() => JSON.stringify(wish.value) === JSON.stringify(wished.value))
const ready = computed(() => !!use.value && !says.value && fresh.value && (rows.value.length > 0 || !asked.value.length))

const unknown = ref<string[]>([])
const notATable = ref('')
async function readTable(e: Event) {
  const field = e.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (!file || !folder.value) return
  notATable.value = ''
  try {
    const read = await sendFile<Schemas['FormTable']>(
      `/api/signing-forms/${props.id}/table?folder=${folder.value}`,
      file,
      'application/octet-stream',
    )
    unknown.value = read.unknown
    bring(read.rows as Row[])
  } catch (e) {
    notATable.value = said.problem(e)
  }
}
function removeWrong() {
  const bad = new Set(problems.value.map((p) => Number(p.at.split('/')[0])))
  rows.value = rows.value.filter((_, i) => !bad.has(i))
}
const { act, busy, wrong } = useAct()
async function send() {
  let sent: Schemas['FormSent'] | undefined
  const names = rows.value.flatMap((r) => r.people.map((p) => p.name))
  const done = await act(
    async () => {
      const all = {
        ...wish.value!,
        message: terms.message || undefined,
        password: terms.password || undefined,
        language: locale.value as 'en' | 'de',
      }
      sent = await answer(api.POST('/signing-forms/{id}/requests', { params: { path: { id: props.id } }, body: all }))
    },
    { done: many.value ? undefined : t('signing.sent', { who: said.list(names) }) },
  )
  if (done && sent) void router.push(sent.batch ? `/signing/many/${sent.batch}` : `/signing/${sent.signing}`)
}
</script>

<template>
  <main v-if="!page" id="content">
    <Failed v-if="missing && !page" :error="missing" />
    <p v-else-if="!page" class="quiet pad">{{ t('common.loading') }}</p>
  </main>
  <PaperFrame v-else :caution="!!wrong || (!!says && rows.length > 0)">
    <template #head>
      <RouterLink class="go small" to="/signing/forms">← {{ t('signforms.title') }}</RouterLink>
      <h1>{{ page.form.name }}</h1>
      <template v-if="!table">
        <div v-for="(i, k) in asked" :key="i" class="whom">
          <Letter :letter="letterOf(i)" />
          <PeopleField
            v-model="to[k]!"
            v-model:rest="rest"
            :items="[page.form.itemId]"
            :hint="t('signforms.whoHint', { role: parties[i]?.role || t('signforms.anybody') })"
          />
        </div>
      </template>
      <p v-else class="terms">
        {{ t('signforms.fromTable', rows.length) }}
        <button type="button" class="plus" @click="clear">{{ t('signforms.noTable') }}</button>
      </p>
      <p class="terms">
        <template v-for="(p, i) in parties" :key="i">
          <template v-if="p.person || p.email">
            <Letter :letter="letterOf(i)" />
            {{ ' ' }}{{ p.name }}{{ p.signs ? t('signforms.alsoSigns') : t('signforms.alsoFills') }}
          </template>
        </template>
        {{ t('signing.within') }}
        <SentenceSelect
          v-model="terms.days"
          :label="t('signing.until')"
          :options="
            [...new Set([3, 7, 14, 30, 60, terms.days])]
              .filter(Boolean)
              .sort((a, b) => a - b)
              .map((value) => ({ value, words: t('signing.days', value) }))
          "
          then=","
        />
        <SentenceSelect
          v-model="terms.known"
          :label="t('signing.identity')"
          :options="[
            { value: '', words: t('signforms.asFormSays') },
            ...(['link', 'code', 'sign-in'] as const).map((value) => ({ value, words: t(`signing.identities.${value}`) })),
          ]"
          then=","
        />
        {{ t('signforms.into') }}
        <SentenceSelect
          v-model="code"
          :label="t('signforms.dossier')"
          :options="(dossiers ?? []).map((d) => ({ value: d.code, words: d.name }))"
          then=","
        />
        <SentenceSelect
          v-model="folder"
          :label="t('signforms.folder')"
          :options="folders.map((f) => ({ value: f.id, words: f.number ? `${f.number} ${f.name}` : t('move.top') }))"
          then="."
        />
        {{ ' ' }}
        <label v-if="asked.length && folder" class="plus">
          {{ t('signforms.plusTable') }}
          <input type="file" accept=".csv,.tsv,.xlsx,.ods,text/csv" class="visually-hidden" data-table @change="readTable" />
        </label>
      </p>
      <p v-if="notATable" class="t-caution small" role="alert">{{ notATable }}</p>
      <p v-if="unknown.length && table" class="small quiet">{{ t('signforms.unknown', { words: said.list(unknown) }) }}</p>
      <label v-if="told || terms.password" class="small">
        {{ t('signing.password') }}
        <input v-model="terms.password" class="form-control form-control-sm password" minlength="6" maxlength="500" autocomplete="off" />
      </label>
    </template>
    <div class="desk">
      <section class="lines">
        <RowsTable
          v-if="rows.length && (asked.length || use?.blanks.length)"
          :rows="rows"
          :asked="asked"
          :blanks="use?.blanks ?? []"
          :problems="problems"
          @remove="remove"
          @remove-wrong="removeWrong"
        />
        <p v-else class="quiet">{{ t('signforms.linesHint') }}</p>
        <label class="message">
          <b>{{ t('signing.tell') }}</b>
          <textarea v-model="terms.message" class="form-control" rows="3" maxlength="4000"></textarea>
        </label>
      </section>
      <FormLook v-if="folder" :form="id" :folder="folder" :row="rows[0] ?? { people: [], values: {} }" />
    </div>
    <template #says>
      {{ wrong || says || t('signforms.readySend', { when: use ? said.when(use.until) : '' }, rows.length) }}
    </template>
    <template #act>
      <button type="button" class="btn btn-primary" :disabled="!ready || busy" data-send @click="send">
        <IconSign aria-hidden="true" />
        {{ many ? t('signforms.sendMany', rows.length) : t('signing.send') }}
      </button>
    </template>
  </PaperFrame>
</template>

<style scoped>
.whom {
  display: flex;
  align-items: center;
  gap: var(--tb-s2);
  max-width: 720px;
}
.whom > :last-child {
  flex: 1;
}
.head .terms {
  margin: var(--tb-s1) 0;
}
.password {
  display: inline-block;
  width: 11rem;
}
.pad {
  padding: 24px;
}
.desk {
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(300px, 500px);
  min-height: 0;
}
.lines {
  overflow: auto;
  padding: 14px 24px;
}
.message {
  display: block;
  margin-top: var(--tb-s4);
  max-width: 560px;
}
@media (max-width: 900px) {
  .lines {
    padding: 8px 16px;
  }
  .desk {
    display: block;
  }
}
</style>
