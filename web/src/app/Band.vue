<script setup lang="ts">
import { BDropdown, BDropdownDivider, BDropdownItemButton, BDropdownText } from 'bootstrap-vue-next'
import { useI18n } from 'vue-i18n'
import Mark from '../parts/Mark.vue'
import Tray from '../uploads/Tray.vue'
import { useLanguage } from '../i18n'
import Finder from './Finder.vue'
import Notices from './Notices.vue'
import { places } from './places'
import { useSession } from './session'
import { chooseTheme, theme } from './theme'

const { t, locale } = useI18n()
const store = useSession()
</script>

<template>
  <header class="band">
    <RouterLink class="mark" to="/today" style="text-decoration: none">
      <Mark />
      {{ store.practice?.name }}
    </RouterLink>
    <nav class="cards" :aria-label="t('place.nav')">
      <RouterLink v-for="p in places" :key="p.key" :to="p.to" :aria-current="$route.meta.place === p.key ? 'page' : undefined">
        {{ t(`place.${p.key}`) }}
        <small>{{ (p.key === 'outward' ? store.session?.outwardCount : p.key === 'desk' ? store.session?.newGiven : 0) || '' }}</small>
      </RouterLink>
    </nav>
    <Finder />
    <div class="band-acts">
      <Tray />
      <Notices />
      <BDropdown variant="link" no-caret toggle-class="who-button p-0" placement="bottom-end">
        <template #button-content>
          <span class="who" :title="store.session?.person.name">{{ store.session?.person.initials }}</span>
          <span class="visually-hidden">{{ store.session?.person.name }}</span>
        </template>
        <BDropdownText>
          <b>{{ store.session?.person.name }}</b>
          <br />
          <span class="small quiet">{{ store.session?.person.role }}</span>
        </BDropdownText>
        <BDropdownDivider />
        <li>
          <RouterLink class="dropdown-item" to="/me">{{ t('me.title') }}</RouterLink>
        </li>
        <BDropdownItemButton v-if="locale === 'en'" lang="de" @click="useLanguage('de')">Deutsch</BDropdownItemButton>
        <BDropdownItemButton v-else lang="en" @click="useLanguage('en')">English</BDropdownItemButton>
        <BDropdownItemButton @click="chooseTheme(theme === 'dark' ? 'light' : 'dark')">
          {{ theme === 'dark' ? t('common.light') : t('common.dark') }}
        </BDropdownItemButton>
        <li v-if="store.session?.mailbox">
          <a class="dropdown-item" :href="store.session.mailbox" target="_blank" rel="noreferrer">{{ t('common.mailbox') }}</a>
        </li>
        <BDropdownDivider />
        <BDropdownItemButton @click="store.signOut()">{{ t('common.signOut') }}</BDropdownItemButton>
      </BDropdown>
    </div>
  </header>
</template>
