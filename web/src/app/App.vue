<script setup lang="ts">
import { useOnline, useTitle } from '@vueuse/core'
import { computed, defineAsyncComponent, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'
import Band from './Band.vue'
import BottomBar from './BottomBar.vue'
import { useLive } from './live'
import { thing } from './title'
import { progress } from './many'
import { hush, toast } from './toasts'
import { useSaid } from '../sentences/said'
import { useSession } from './session'

const Help = defineAsyncComponent(() => import('./Help.vue'))
const Player = defineAsyncComponent(() => import('./Player.vue'))
const SignInAgain = defineAsyncComponent(() => import('../places/signin/SignInAgain.vue'))
const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const store = useSession()
const said = useSaid()
const framed = computed(() => !route.meta.open && (store.session || store.ended))
useLive()
const online = useOnline()
/** The place and the thing stand first: they tell windows apart. */
useTitle(
  computed(() => {
    const place = route.meta.place
      ? t(`place.${route.meta.place as string}`)
      : route.meta.open
        ? t('place.enter')
        : route.path === '/me'
          ? t('place.me')
          : ''
    return [thing.value, place, store.practice?.name ?? 'Tabularis'].filter(Boolean).join(' – ')
  }),
)

watch(
  () => [store.session, store.ended],
  () => {
    if (!store.session && !store.ended && !route.meta.open) void router.push({ path: '/sign-in', query: { next: route.fullPath } })
  },
)
function doAct() {
  toast.current?.act?.do()
  hush()
}
</script>

<template>
  <a class="skip" href="#content">{{ t('place.skip') }}</a>
  <Band v-if="framed" />
  <p v-if="framed && store.practice?.removalAt" class="removal" role="status">
    {{ t('practice.removalAt', { when: said.full(store.practice.removalAt) }) }}
  </p>
  <p v-if="!online" class="removal" role="status">{{ t('place.offline') }}</p>
  <RouterView />
  <BottomBar v-if="framed" />
  <Player v-if="framed" />
  <Help />
  <SignInAgain v-if="store.ended && !route.meta.open" />
  <div class="toast-holder" role="status" aria-live="polite">
    <div v-if="progress.current" class="toast-line">
      <label>
        {{ t('common.progress', { n: progress.current.did, all: progress.current.all }) }}
        <progress :value="progress.current.did" :max="progress.current.all"></progress>
      </label>
      <button v-if="!progress.current.stopping" type="button" @click="progress.current.stopping = true">{{ t('common.stop') }}</button>
    </div>
    <div v-else-if="toast.current" class="toast-line">
      <span>{{ toast.current.text }}</span>
      <button v-if="toast.current.act" type="button" @click="doAct">{{ toast.current.act.label }}</button>
    </div>
  </div>
</template>

<style scoped>
.removal {
  background: var(--tb-caution-wash);
  color: var(--tb-caution-text);
  padding: 6px 20px;
  font-weight: 560;
  margin: 0;
}
</style>
