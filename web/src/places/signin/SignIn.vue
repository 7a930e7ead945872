<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import DoorStep from './DoorStep.vue'
import SignInForm from './SignInForm.vue'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const address = typeof route.query.email === 'string' ? route.query.email : undefined

function go() {
  const next = typeof route.query.next === 'string' && /^\/[^/\\]/.test(route.query.next) ? route.query.next : '/today'
  // A link's page is not one of the application's.
  if (next.startsWith('/l/')) location.assign(next)
  else void router.replace(next)
}
</script>

<template>
  <DoorStep :title="t('signin.title')" :intro="t('signin.intro')">
    <ol class="stops">
      <li class="here">
        <span class="pin">1</span>
        <h2>{{ t('signin.you') }}</h2>
        <p class="quiet">{{ address ? t('signin.guestHint') : t('signin.youHint') }}</p>
        <SignInForm :address="address" @done="go" />
      </li>
      <li class="ahead">
        <span class="pin">2</span>
        <span class="terms then">{{ t('signin.then') }}</span>
      </li>
    </ol>
    <p class="small quiet foot-note">{{ t('signin.recorded') }}</p>
  </DoorStep>
</template>

<style scoped>
.stops li {
  position: relative;
  padding: 0 0 40px 52px;
}
.stops h2 {
  font-size: var(--tb-head);
  line-height: 30px;
}
.pin {
  position: absolute;
  left: 0;
  top: 1px;
  width: 28px;
  height: 28px;
  border-radius: 50%;
  border: 2px solid var(--tb-edge);
  display: grid;
  place-items: center;
  font-weight: 600;
  font-size: var(--tb-text);
  z-index: var(--tb-layer-head);
  background: var(--tb-sheet);
}
.here .pin {
  background: var(--tb-action);
  border-color: var(--tb-action);
  color: var(--tb-on-action);
}
.here::before {
  content: '';
  position: absolute;
  left: 13px;
  top: 28px;
  bottom: 0;
  border-left: 2px dashed var(--tb-rule);
}
.then {
  font-size: var(--tb-write);
  color: var(--tb-quiet);
  line-height: 30px;
}
.foot-note {
  margin-top: auto;
}
</style>
