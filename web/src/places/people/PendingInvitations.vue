<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'

/** Who was invited and has not yet come in. */
defineProps<{ accounts: Schemas['Account'][] }>()
const { t } = useI18n()
const said = useSaid()
const { act } = useAct()
const again = (a: Schemas['Account']) =>
  act(() => api.POST('/people/{id}/invitation', { params: { path: { id: a.person.id } } }), {
    done: t('people.sentAgain', { name: a.person.name }),
    aloud: true,
  })
const takeBack = (a: Schemas['Account']) =>
  act(() => api.DELETE('/people/{id}/invitation', { params: { path: { id: a.person.id } } }), {
    done: t('people.takenBack', { name: a.person.name }),
    aloud: true,
  })
</script>

<template>
  <template v-if="accounts.length">
    <h2>{{ t('people.notYet') }}</h2>
    <ul class="used">
      <li v-for="a in accounts" :key="a.person.id">
        <span>
          <b>{{ a.person.name }}</b>
          <br />
          <span class="small quiet">
            {{ t('people.invitedWhen', { when: said.when(a.invited!), by: a.invitedBy ?? '' }) }}{{ ' ' }}
            <template v-if="a.invitationEnds">
              {{
                new Date(a.invitationEnds) < said.now.value ? t('people.lapsed') : t('people.lapses', { when: said.when(a.invitationEnds) })
              }}
            </template>
          </span>
        </span>
        <span class="acts small">
          <button type="button" class="go" @click="again(a)">{{ t('people.again') }}</button>
          <button type="button" class="go" @click="takeBack(a)">{{ t('people.takeBack') }}</button>
        </span>
      </li>
    </ul>
  </template>
</template>

<style scoped>
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
  margin: 18px 0 0;
}
.used li {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s3);
  padding: var(--tb-s2) 0;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 19px;
}
.used li > span:first-child {
  min-width: 0;
  overflow-wrap: anywhere;
}
.used .acts {
  flex: none;
  gap: var(--tb-s3);
  align-items: flex-start;
}
</style>
