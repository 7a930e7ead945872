import '@fontsource-variable/atkinson-hyperlegible-next/index.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css'
import '@fontsource-variable/literata/opsz.css'
import './theme/app.scss'
import './theme/viewer.scss'
import { QueryClient, VueQueryPlugin } from '@tanstack/vue-query'
import { createPinia } from 'pinia'
import { createApp } from 'vue'
import { Refusal } from './api/client'
import App from './app/App.vue'
import { makeRouter } from './app/router'
import { useSession } from './app/session'
import { startTheme } from './app/theme'
import { i18n, onLanguage, startLanguage, useLanguage } from './i18n'

const queries = new QueryClient({
  defaultOptions: {
    queries: { staleTime: 30_000, retry: (n, e) => n < 2 && !(e instanceof Refusal && e.problem.status >= 400 && e.problem.status < 500) },
  },
})

startTheme()
await useLanguage(startLanguage())
onLanguage(() => void queries.invalidateQueries())
const app = createApp(App).use(createPinia()).use(i18n).use(VueQueryPlugin, { queryClient: queries })
const store = useSession()
await store.start().catch(() => undefined)
app.use(makeRouter()).mount('#app')
