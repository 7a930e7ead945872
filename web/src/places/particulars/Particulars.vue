<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import Confirm from '../../parts/Confirm.vue'
import { useParticulars, type Particular } from '../../queries/particulars'
import DefinitionForm from './DefinitionForm.vue'

/** What the practice keeps about documents beside their content; administrators define it. */
const { t } = useI18n()
const { data: all, error, refetch } = useParticulars()
const { act, busy, wrong } = useAct()
const store = useSession()
const administers = computed(() => ['proprietor', 'administrator'].includes(store.session?.standing ?? ''))
const changing = ref<string>()
const removing = ref<Particular>()

const about = (p: Particular) =>
  [
    t(`particulars.kind.${p.kind}`) + (p.unit ? `, ${p.unit}` : ''),
    ...(p.choices?.length ? [p.choices.join(' / ')] : []),
    ...(p.required ? [t('particulars.required')] : []),
    p.dossierKinds?.length ? p.dossierKinds.map((k) => t(`particulars.in.${k}`)).join(', ') : t('particulars.in.all'),
  ].join('; ')

async function keep(body: Schemas['NewParticular'], id?: string) {
  const did = await act(
    () => (id ? api.PUT('/particulars/{id}', { params: { path: { id } }, body }) : api.POST('/particulars', { body })),
    { done: t(id ? 'particulars.changed' : 'particulars.defined', { name: body.name }) },
  )
  if (did) changing.value = undefined
}
async function remove() {
  const p = removing.value!
  const gone = await act(() => api.DELETE('/particulars/{id}', { params: { path: { id: p.id } } }), {
    done: t('particulars.removed', { name: p.name }),
  })
  if (gone) removing.value = undefined
}
function begin(id: string) {
  wrong.value = ''
  changing.value = id
}
</script>

<template>
  <main id="content" class="plain particulars">
    <header>
      <div>
        <h1>{{ t('particulars.title') }}</h1>
        <p class="quiet">{{ t('particulars.about') }}</p>
      </div>
      <button v-if="administers && all && changing !== 'new'" type="button" class="btn btn-primary" @click="begin('new')">
        {{ t('particulars.define') }}
      </button>
    </header>
    <Failed v-if="error && !all" :error="error" @again="refetch()" />
    <DefinitionForm v-if="changing === 'new'" :busy="busy" :wrong="wrong" @keep="keep($event)" @discard="changing = undefined" />
    <p v-if="all && !all.length && changing !== 'new'" class="quiet">{{ t('particulars.none') }}</p>
    <ul>
      <li v-for="p in all" :key="p.id">
        <DefinitionForm
          v-if="changing === p.id"
          class="whole"
          :before="p"
          :busy="busy"
          :wrong="wrong"
          @keep="keep($event, p.id)"
          @discard="changing = undefined"
        />
        <Confirm
          v-else-if="removing?.id === p.id"
          class="whole"
          :act="t('particulars.remove')"
          :discard="t('common.discard')"
          :busy="busy"
          @do="remove"
          @discard="removing = undefined"
        >
          {{ t('particulars.removeAsk', { name: p.name }) }}
        </Confirm>
        <template v-else>
          <span>
            <b>{{ p.name }}</b>
            <span class="small quiet about">{{ about(p) }}</span>
          </span>
          <span v-if="administers" class="acts">
            <button type="button" class="go small" @click="begin(p.id)">{{ t('particulars.change') }}</button>
            <button type="button" class="go small" @click="removing = p">{{ t('particulars.remove') }}</button>
          </span>
        </template>
      </li>
    </ul>
    <p v-if="wrong && !changing" class="t-caution" role="alert">{{ wrong }}</p>
  </main>
</template>

<style scoped>
.particulars {
  max-width: 760px;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--tb-s4);
  align-items: center;
  min-height: 48px;
  padding: var(--tb-s1) 0;
  border-bottom: 1px solid var(--tb-line);
}
.whole {
  grid-column: 1 / -1;
}
.about {
  display: block;
}
header {
  padding-bottom: var(--tb-s4);
}
</style>
