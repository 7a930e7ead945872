import '@fontsource-variable/atkinson-hyperlegible-next/index.css'
import '@fontsource-variable/atkinson-hyperlegible-mono/index.css'
import '@fontsource-variable/literata/opsz.css'
import '../theme/recipient.scss'
import '../theme/viewer.scss'
import { createApp } from 'vue'
import Recipient from './Recipient.vue'

const dark = window.matchMedia('(prefers-color-scheme: dark)')
const dress = () => (document.documentElement.dataset.bsTheme = dark.matches ? 'dark' : 'light')
dress()
dark.addEventListener('change', dress)
createApp(Recipient).mount('#app')
