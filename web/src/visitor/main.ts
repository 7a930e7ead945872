import '@fontsource-variable/atkinson-hyperlegible-next/index.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css'
import '@fontsource-variable/literata/opsz.css'
import '../theme/visitor.scss'
import '../theme/viewer.scss'
import { createApp } from 'vue'
import { RouterView } from 'vue-router'
import { router } from './router'

const dark = window.matchMedia('(prefers-color-scheme: dark)')
const dress = () => (document.documentElement.dataset.bsTheme = dark.matches ? 'dark' : 'light')
dress()
dark.addEventListener('change', dress)
createApp(RouterView).use(router).mount('#app')
