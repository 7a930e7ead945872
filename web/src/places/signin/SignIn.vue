<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '../../app/session'
import { useLanguage } from '../../i18n'
import Mark from '../../parts/Mark.vue'
import SignInForm from './SignInForm.vue'

const { t, locale } = useI18n()
const route = useRoute()
const router = useRouter()
const store = useSession()

function go() {
  const next = typeof route.query.next === 'string' && /^\/[^/\\]/.test(route.query.next) ? route.query.next : '/today'
  void router.replace(next)
}
</script>

<template>
  <div class="door-step">
    <section class="left">
      <div class="house"><Mark /><span><b>{{ store.practice?.name }}</b><br><span class="small">{{ store.practice?.tagline }}</span></span></div>
      <div class="intro"><h1>{{ t('signin.title') }}</h1><p class="terms">{{ t('signin.intro') }}</p></div>
      <p class="small help">{{ t('signin.trouble', { helper: store.practice?.helper ?? '' }) }}</p>
    </section>
    <main id="content" class="right">
      <div class="langs"><button type="button" lang="en" :aria-pressed="locale === 'en'" @click="useLanguage('en')">English</button><button type="button" lang="de" :aria-pressed="locale === 'de'" @click="useLanguage('de')">Deutsch</button></div>
      <ol class="stops">
        <li class="here"><span class="pin">1</span><h2>{{ t('signin.you') }}</h2><p class="quiet">{{ t('signin.youHint') }}</p><SignInForm @done="go" /></li>
        <li class="ahead"><span class="pin">2</span><span class="terms then">{{ t('signin.then') }}</span></li>
      </ol>
      <p class="small quiet foot-note">{{ t('signin.recorded') }}</p>
    </main>
  </div>
</template>

<style scoped>
.door-step { display: grid; grid-template-columns: 480px 1fr; min-height: 100dvh; background: var(--tb-sheet); }
.left { background: var(--tb-band); color: var(--tb-band-ink); padding: 40px 56px 32px; display: flex; flex-direction: column; }
.house { display: flex; gap: 12px; align-items: center; font-family: 'Literata Variable', serif; font-size: 1.0625rem; line-height: 20px; }
.house svg { width: 32px; height: 35px; fill: currentColor; }
.house .small, .help { color: var(--tb-band-quiet); font-family: var(--bs-font-sans-serif); }
.intro { margin-top: 22vh; }
.intro h1 { font-size: 2rem; line-height: 40px; margin-bottom: 12px; }
.intro .terms { font-size: 1.0625rem; line-height: 28px; }
.help { margin-top: auto; }
.right { padding: 40px 72px 32px 64px; display: flex; flex-direction: column; }
.langs { display: flex; gap: 18px; justify-content: flex-end; font-size: .875rem; }
.langs button { color: var(--tb-action); padding: 2px 0; }
.langs [aria-pressed=true] { color: var(--tb-ink); box-shadow: 0 2px 0 var(--tb-action); }
.stops { margin-top: 14vh; }
.stops li { position: relative; padding: 0 0 40px 52px; }
.stops h2 { font-size: 1.5rem; line-height: 30px; }
.pin { position: absolute; left: 0; top: 1px; width: 28px; height: 28px; border-radius: 50%; border: 2px solid var(--tb-edge); display: grid; place-items: center; font-weight: 600; font-size: .875rem; z-index: 1; background: var(--tb-sheet); }
.here .pin { background: var(--tb-action); border-color: var(--tb-action); color: var(--tb-on-action); }
.here::before { content: ''; position: absolute; left: 13px; top: 28px; bottom: 0; border-left: 2px dashed var(--tb-rule); }
.then { font-size: 1.25rem; color: var(--tb-quiet); line-height: 30px; }
.foot-note { margin-top: auto; }
@media (max-width: 720px) {
  .door-step { display: block; }
  .left { padding: 16px 20px; }
  .intro { margin-top: 14px; } .intro h1 { font-size: 1.375rem; line-height: 28px; margin: 0 0 4px; } .intro .terms { font-size: .9375rem; line-height: 22px; } .help { display: none; }
  .right { padding: 16px 20px 24px; }
  .stops { margin-top: 16px; }
}
</style>
