<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconCaret from '~icons/ph/caret-down'
import IconSeal from '~icons/ph/seal-check'
import IconPlane from '~icons/ph/paper-plane-tilt'
import IconUpload from '~icons/ph/upload-simple'
import { useRouter } from 'vue-router'
import { api, data, type Schemas } from '../../api/client'
import { tell } from '../../app/toasts'
import Menu from '../../parts/Menu.vue'
import { dossierKeys } from '../../queries/dossiers'
import { useSaid } from '../../sentences/said'
import { chosen, type Brought } from '../../uploads/dropped'
import NameNew from './NameNew.vue'

/** A folder's heading: its name, its main acts, and in a sentence who can open it. */
const props = defineProps<{
  dossier: Schemas['Dossier']
  here: Schemas['Folder']
  page?: Schemas['RegisterPage']
  reaching: boolean
  giving: boolean
  mayAdd: boolean
  mayShare: boolean
  as: boolean
  /** Whether approval can be asked for here: of what is chosen, or once something is. */
  asks?: 'now' | 'choose'
}>()
const emit = defineEmits<{ contents: []; bring: [files: Brought[]]; giveOut: []; ask: []; approval: []; from: []; reach: [] }>()
const { t } = useI18n()
const said = useSaid()
const queries = useQueryClient()
const router = useRouter()
const naming = ref(false)
const writing = ref<'text' | 'table' | 'form'>()
const fileField = ref<HTMLInputElement>()
const folderField = ref<HTMLInputElement>()
const name = computed(() => (props.here.number ? props.here.name : props.dossier.name))
const ways = computed(() => [
  { label: t('dossier.addFiles'), do: () => fileField.value?.click() },
  { label: t('dossier.addFolder'), do: () => folderField.value?.click() },
  { label: t('writing.begin'), do: () => void (writing.value = 'text') },
  { label: t('fillings.begin'), do: () => void (writing.value = 'form') },
  { label: t('writing.beginTable'), do: () => void (writing.value = 'table') },
  { label: t('templates.begin'), do: () => emit('from') },
  { label: t('dossier.newFolder'), do: () => void (naming.value = true) },
  ...(props.mayShare
    ? [
        {
          label: t('signforms.verb'),
          to: `/signing/forms?dossier=${props.dossier.code}&folder=${props.here.id}&name=${encodeURIComponent(name.value)}`,
        },
      ]
    : []),
  ...(props.here.may.includes('manage')
    ? [{ label: t('routes.heading'), to: `/routes?folder=${props.here.id}&name=${encodeURIComponent(name.value)}` }]
    : []),
  ...(props.mayShare ? [{ label: `${t('dossier.ask')} …`, do: () => emit('ask') }] : []),
])
const reachWords = computed(() => {
  const { door, through } = props.here
  if (through) return t('access.onlySome')
  if (door.state === 'open') return t('dossier.folderLinked')
  // Whoever reads it can open it.
  if (door.state === 'closed' && door.count === 1 && !props.as) return t(props.here.number ? 'dossier.onlyYou' : 'dossier.onlyYouWhole')
  const whole = props.here.number ? '' : 'Whole'
  return t(door.state === 'ajar' ? `access.headOutside${whole}` : `dossier.people${whole}`, { n: said.count(door.count) }, door.count)
})

function bring(e: Event) {
  const field = e.target as HTMLInputElement
  if (field.files) emit('bring', chosen(field.files))
  field.value = ''
}
/** A new document is opened to be written. */
async function makeDocument(name: string) {
  const kind = writing.value!
  const made = await data(api.POST('/folders/{id}/written', { params: { path: { id: props.here.id } }, body: { name, kind } }))
  await router.push(kind === 'table' ? `/table/${made.id}` : `/write/${made.id}`)
}
async function makeFolder(name: string) {
  await api.POST('/folders/{id}/folders', { params: { path: { id: props.here.id } }, body: { name } })
  naming.value = false
  tell(t('dossier.folderMade', { name }))
  await queries.invalidateQueries({ queryKey: dossierKeys.of(props.dossier.code) })
}
</script>

<template>
  <div class="heading">
    <p v-if="here.number" class="only-narrow small quiet within">
      <span class="no">{{ dossier.code }}</span>
      {{ ' ' + dossier.name }}
    </p>
    <div class="row1">
      <h1>
        <button type="button" class="where only-narrow" @click="$emit('contents')">
          <span class="no quiet">{{ here.number || dossier.code }}</span>
          {{ name }}
          <IconCaret aria-hidden="true" />
        </button>
        <span class="only-wide">{{ name }}</span>
      </h1>
      <div class="acts">
        <Menu v-if="mayAdd" :label="t('dossier.add')" :entries="ways" button="btn btn-plain">
          <IconUpload aria-hidden="true" />
          {{ t('dossier.add') }}
        </Menu>
        <button
          v-if="asks"
          type="button"
          class="btn btn-plain only-wide"
          :disabled="giving || asks === 'choose'"
          :title="asks === 'choose' ? t('dossier.approvalOf') : undefined"
          @click="$emit('approval')"
        >
          <IconSeal aria-hidden="true" />
          {{ t('decisions.ask.verb') }}
        </button>
        <button v-if="mayShare" type="button" class="btn btn-primary" :disabled="giving" @click="$emit('giveOut')">
          <IconPlane aria-hidden="true" />
          {{ t('dossier.giveOut') }}
        </button>
        <input
          ref="fileField"
          type="file"
          multiple
          class="visually-hidden"
          tabindex="-1"
          :aria-label="t('dossier.addFiles')"
          @change="bring"
        />
        <input
          ref="folderField"
          type="file"
          webkitdirectory
          class="visually-hidden"
          tabindex="-1"
          :aria-label="t('dossier.addFolder')"
          @change="bring"
        />
      </div>
    </div>
    <p class="terms">
      <button type="button" class="reach-word" :aria-expanded="reaching" :disabled="here.through || as" @click="$emit('reach')">
        {{ reachWords }}
      </button>
      {{ ' ' }}
      <b v-if="here.ends && !as" class="t-caution" :title="said.full(here.ends)">
        {{ t('access.ownEnds', { when: said.when(here.ends) }) }}
      </b>
      {{ ' ' }}
      <b v-if="here.closed">{{ t('access.closedHere') }}</b>
      {{ ' ' }}
      <b v-if="!here.links && page?.linked">{{ t('dossier.linked', { n: said.count(page.linked).toLowerCase() }) }}</b>
    </p>
    <NameNew
      v-if="writing"
      :key="writing"
      :label="t(writing === 'table' ? 'writing.tableName' : writing === 'form' ? 'fillings.name' : 'writing.name')"
      :verb="t('writing.make')"
      :make="makeDocument"
      @discard="writing = undefined"
    />
    <NameNew v-if="naming" :label="t('dossier.folderName')" :verb="t('dossier.makeFolder')" :make="makeFolder" @discard="naming = false" />
  </div>
</template>

<style scoped>
.within {
  margin: 0;
}
.where {
  font: inherit;
  display: inline-flex;
  align-items: center;
  gap: var(--tb-s2);
}
.reach-word {
  font: inherit;
  color: inherit;
  text-align: left;
  text-decoration: underline;
  text-decoration-color: var(--tb-rule);
  text-underline-offset: 4px;
}
.reach-word:hover {
  text-decoration-color: var(--tb-action);
}
</style>
