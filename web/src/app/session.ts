import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { i18n, useLanguage } from '../i18n'
import { useTheme } from './theme'
import { forgetAll, keepFor } from '../sealed/kept'
import { api, data, onSignedOut, type Schemas } from '../api/client'

/** Who is signed in here. */
export const useSession = defineStore('session', () => {
  const session = ref<Schemas['Session'] | null>(null)
  const practice = ref<Schemas['Practice'] | null>(null)
  /** The session has ended while a page was open. */
  const ended = ref(false)

  async function start(): Promise<void> {
    session.value = (await data(api.GET('/session'))) ?? null
    practice.value = session.value?.practice ?? (await data(api.GET('/practice'))) ?? null
    await prefer()
  }

  /** What the account prefers holds here, too. */
  async function prefer(): Promise<void> {
    if (session.value) void keepFor(session.value.person.id).catch(() => undefined)
    const wish = session.value?.preferences
    if (wish?.language && wish.language !== i18n.global.locale.value) await useLanguage(wish.language)
    if (wish?.look) useTheme(wish.look)
  }
  /** Chooses a language or a look, for every device. */
  async function choose(change: Partial<Schemas['Preferences']>): Promise<void> {
    if (!session.value) return
    session.value.preferences = { ...session.value.preferences, ...change }
    await prefer()
    await api.PUT('/me/preferences', { body: session.value.preferences })
  }

  /** Takes the answer to a sign-in; what it returns is the second factor that has to follow, if one has to. */
  function take(answer: Schemas['SignedIn']): Schemas['SignedIn']['factors'] {
    if (answer.session) {
      session.value = answer.session
      practice.value = answer.session.practice
      void prefer()
      ended.value = false
    }
    return answer.factors
  }

  async function signOut(): Promise<void> {
    await api.DELETE('/session')
    await forgetAll().catch(() => undefined)
    session.value = null
    ended.value = false
  }

  async function refresh(): Promise<void> {
    if (session.value) session.value = (await data(api.GET('/session'))) ?? null
  }

  onSignedOut(() => {
    if (session.value) ended.value = true
    session.value = null
  })

  const timezone = computed(() => practice.value?.timezone ?? 'UTC')
  return { session, practice, ended, timezone, start, take, choose, signOut, refresh }
})
