<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import Mark from '../parts/Mark.vue'
import Menu from '../parts/Menu.vue'
import Tray from '../uploads/Tray.vue'
import Finder from './Finder.vue'
import { helpOpen } from './help'
import Notices from './Notices.vue'
import { countOf, placesOf } from './places'
import { useSession } from './session'
import { theme } from './theme'

const { t, locale } = useI18n()
const store = useSession()
const shownPlaces = computed(() => placesOf(store.session))
const entries = computed(() => [
  { label: t('me.title'), to: '/me' },
  { label: t('help.title'), do: () => void (helpOpen.value = true) },
  locale.value === 'en'
    ? { label: 'Deutsch', lang: 'de', do: () => void store.choose({ language: 'de' }) }
    : { label: 'English', lang: 'en', do: () => void store.choose({ language: 'en' }) },
  theme.value === 'dark'
    ? { label: t('common.light'), do: () => void store.choose({ look: 'light' }) }
    : { label: t('common.dark'), do: () => void store.choose({ look: 'dark' }) },
  ...(store.session?.mailbox ? [{ label: t('common.mailbox'), href: store.session.mailbox }] : []),
  { label: t('common.signOut'), do: () => void store.signOut(), apart: true },
])
</script>

<template>
  <header class="band">
    <RouterLink class="mark" to="/today" style="text-decoration: none">
      <Mark />
      {{ store.practice?.name }}
    </RouterLink>
    <nav class="cards" :aria-label="t('place.nav')">
      <RouterLink v-for="p in shownPlaces" :key="p.key" :to="p.to" :aria-current="$route.meta.place === p.key ? 'page' : undefined">
        {{ t(`place.${p.key}`) }}
        <small>{{ countOf(p.key, store.session) || '' }}</small>
      </RouterLink>
    </nav>
    <Finder />
    <div class="band-acts">
      <Tray />
      <Notices />
      <Menu :label="store.session?.person.name ?? ''" :entries="entries" button="who-button" end>
        <span class="who" :title="store.session?.person.name">{{ store.session?.person.initials }}</span>
        <span class="visually-hidden">{{ store.session?.person.name }}</span>
        <template #head>
          <b>{{ store.session?.person.name }}</b>
          <br />
          <span class="small quiet">{{ store.session?.person.role }}</span>
        </template>
      </Menu>
    </div>
  </header>
</template>
