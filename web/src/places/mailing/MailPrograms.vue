<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import { copyText } from '../../app/clipboard'
import { useSession } from '../../app/session'
import { tell } from '../../app/toasts'
import { useMailPrograms } from '../../queries/mailing'
import MailSettings from './MailSettings.vue'

/** The mail programs by which one sends through the practice, each with a password of its own and what becomes of its mails. */
const { t } = useI18n()
const store = useSession()
const { data: all } = useMailPrograms()
const { act, busy, wrong } = useAct()
const writing = ref(false)
const name = ref('')
const password = ref('')
const usual = { over: 5_000_000, numbers: true, holds: false }
const make = () =>
  act(async () => {
    const made = await data(api.POST('/me/mail-programs', { body: { name: name.value, ...usual } }))
    password.value = made.password
    writing.value = false
    name.value = ''
    if (await copyText(made.password)) tell(t('common.copied'))
  })
const remove = (id: string, called: string) =>
  act(() => api.DELETE('/me/mail-programs/{id}', { params: { path: { id } } }), { done: t('mailing.removed', { name: called }) })
</script>

<template>
  <section v-if="all" id="mail-programs">
    <h2>{{ t('mailing.title') }}</h2>
    <p class="small quiet">{{ t(all.port ? 'mailing.about' : 'mailing.off') }}</p>
    <template v-if="all.port">
      <p class="small">
        {{ t('mailing.server', { host: all.host ?? '', port: String(all.port), user: store.session?.person.email ?? '' }) }}
      </p>
      <p v-if="password">
        <output class="no password">{{ password }}</output>
        <span class="small quiet">{{ t('mailing.once') }}</span>
      </p>
      <ul v-if="all.programs.length">
        <li v-for="p in all.programs" :key="p.id" :data-program="p.name">
          <MailSettings :program="p" />
          <button
            type="button"
            class="btn btn-text btn-small"
            :disabled="busy"
            :aria-label="`${t('mailing.remove')}: ${p.name}`"
            @click="remove(p.id, p.name)"
          >
            {{ t('mailing.remove') }}
          </button>
        </li>
      </ul>
      <form v-if="writing" class="acts" @submit.prevent="make">
        <input
          v-model="name"
          class="form-control"
          :aria-label="t('mailing.name')"
          :placeholder="t('mailing.name')"
          maxlength="100"
          required
          autofocus
        />
        <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('mailing.make') }}</button>
        <button type="button" class="btn btn-text btn-small" @click="writing = false">{{ t('common.discard') }}</button>
      </form>
      <button v-else type="button" class="btn btn-plain btn-small" @click="writing = true">{{ t('mailing.connect') }}</button>
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    </template>
  </section>
</template>

<style scoped>
section > p {
  margin: var(--tb-s2) 0;
}
.password {
  display: block;
  overflow-wrap: anywhere;
  user-select: all;
}
ul {
  list-style: none;
  padding: 0;
  margin: 0 0 var(--tb-s3);
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--tb-s2) var(--tb-s4);
  align-items: start;
  padding: var(--tb-s2) 0;
  border-bottom: 1px solid var(--tb-line);
}
form input {
  max-width: 260px;
}
</style>
