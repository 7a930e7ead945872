<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSession } from '../../app/session'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDigest, useFollowing } from '../../queries/following'

/** The digest by mail, as a sentence, and what I follow or have muted. */
const { t } = useI18n()
const store = useSession()
const { data: digest } = useDigest()
const { data: things } = useFollowing()
const { act, busy, wrong } = useAct()
type Digest = Schemas['Digest']
const set = (change: Partial<Digest>) =>
  void act(() => api.PUT('/digest', { body: { ...digest.value!, ...change } }), { done: t('following.digestKept') })
const every = computed({ get: () => digest.value?.every ?? '', set: (every: Digest['every']) => set({ every }) })
const followed = computed({ get: () => digest.value?.followed ?? false, set: (followed: boolean) => set({ followed }) })
const zone = computed({ get: () => digest.value?.zone ?? '', set: (zone: string) => set({ zone }) })
const words = computed(() => ({
  every: (['', 'daily', 'weekly'] as const).map((e) => ({ value: e, words: t(`following.every.${e || 'never'}`) })),
  followed: [false, true].map((f) => ({ value: f, words: t(f ? 'following.ofFollowed' : 'following.ofAll') })),
  zones: [
    { value: '', words: t('following.practiceClock', { zone: store.timezone }) },
    ...Intl.supportedValuesOf('timeZone').map((z) => ({ value: z, words: z.replaceAll('_', ' ') })),
  ],
}))
const leave = (id: string) => act(() => api.PUT('/following/{id}', { params: { path: { id } }, body: { stance: '' } }))
</script>

<template>
  <section v-if="digest">
    <h2>{{ t('following.title') }}</h2>
    <p class="terms sentence">
      {{ t('following.mailMe') }}
      <SentenceSelect v-model="every" :label="t('following.howOften')" :options="words.every" :then="digest.every ? undefined : '.'" />
      <template v-if="digest.every">
        {{ ' ' }}
        <SentenceSelect v-model="followed" :label="t('following.ofWhat')" :options="words.followed" then="," />
        {{ t('following.by') }}
        <SentenceSelect v-model="zone" :label="t('following.clock')" :options="words.zones" then="." />
      </template>
    </p>
    <p class="small quiet">{{ t('following.hint') }}</p>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <ul v-if="things?.length" class="things">
      <li v-for="f in things" :key="f.id">
        <span>
          {{ t(`following.line.${f.stance}`) }}
          <RouterLink :to="f.path">{{ f.name }}</RouterLink>
          {{ ' ' }}
          <span class="no quiet">{{ f.ref }}</span>
        </span>
        <button type="button" class="go small" :disabled="busy" :aria-label="t('following.leaveOf', { what: f.name })" @click="leave(f.id)">
          {{ t('following.leave') }}
        </button>
      </li>
    </ul>
    <p v-else-if="things" class="small quiet">{{ t('following.nothing') }}</p>
  </section>
</template>

<style scoped>
.sentence {
  font-size: var(--tb-large);
  line-height: 28px;
  padding-top: var(--tb-s2);
}
.things {
  margin-top: var(--tb-s2);
}
.things li {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s4);
  padding: 6px 0 5px;
  border-bottom: 1px solid var(--tb-line);
  font-size: var(--tb-text);
}
.things a {
  color: var(--tb-ink);
}
</style>
