<script setup lang="ts">
import { useEventListener, useMediaQuery } from '@vueuse/core'
import { computed, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRouter } from 'vue-router'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'

import { isCommand, isTyping } from '../../parts/keys'
import Dots from '../../parts/Dots.vue'
import { useDecisions } from '../../queries/decisions'
import { stemOf } from '../../i18n/words'
import OneRun from './OneRun.vue'
import { useDecisionWords } from './words'

/** What waits for one's decision, what one waits for, and what is finished; the run that is chosen beside it. */
const props = defineProps<{ id?: string }>()
const { t } = useI18n()
const router = useRouter()
const store = useSession()
const narrow = useMediaQuery('(max-width: 900px)')
const words = useDecisionWords()
const { data, error, refetch } = useDecisions()
const parts = computed(() => [
  { key: 'onMe', runs: data.value?.onMe ?? [] },
  { key: 'waitFor', runs: data.value?.waitFor ?? [] },
  { key: 'finished', runs: data.value?.finished ?? [] },
])
const all = computed(() => parts.value.flatMap((p) => p.runs))
/** Without one that is named, the first that waits is shown beside the list. */
watch(
  [data, () => props.id],
  () => {
    if (!props.id && !narrow.value && all.value[0]) void router.replace(`/decisions/${all.value[0].id}`)
  },
  { immediate: true },
)
/** The next that waits for me, once this one is decided. */
function next() {
  const waits = data.value?.onMe ?? []
  const at = waits.findIndex((r) => r.id === props.id)
  const to = waits[at + 1] ?? waits.find((r) => r.id !== props.id)
  if (to) void router.push(`/decisions/${to.id}`)
}
function move(by: number) {
  const at = all.value.findIndex((r) => r.id === props.id)
  const to = all.value[at + by]
  if (to) void router.replace(`/decisions/${to.id}`)
}
useEventListener(document, 'keydown', (e: KeyboardEvent) => {
  if (isTyping(e) || isCommand(e)) return
  if (e.key === 'j' || e.key === 'k') {
    e.preventDefault()
    move(e.key === 'j' ? 1 : -1)
  }
})
</script>

<template>
  <main id="content" class="decisions" :class="{ reading: id }">
    <nav class="list" :aria-label="t('decisions.title')">
      <header>
        <h1>{{ t('decisions.title') }}</h1>
        <span class="ways-on">
          <RouterLink class="go small" to="/signing">{{ t('signing.toRequests') }}</RouterLink>
          <RouterLink v-if="store.session?.standing !== 'guest'" class="go small" to="/routes">{{ t('decisions.toRoutes') }}</RouterLink>
        </span>
      </header>
      <Failed v-if="error && !data" :error="error" @again="refetch()" />
      <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
      <div v-else-if="!all.length" class="empty">
        <h2>{{ t('decisions.none') }}</h2>
        <p>{{ t('decisions.noneHint') }}</p>
      </div>
      <template v-for="p in parts" v-else :key="p.key">
        <section v-if="p.runs.length">
          <h2>
            {{ t(`decisions.${p.key}`) }}
            <small>{{ p.runs.length }}</small>
          </h2>
          <ul>
            <li v-for="r in p.runs" :key="r.id">
              <RouterLink :to="`/decisions/${r.id}`" :aria-current="r.id === id ? 'true' : undefined" :data-run="r.ref">
                <span class="name">{{ stemOf(r.name) }}</span>
                <Dots :stops="r.stops" />
                <span class="small quiet under">
                  <span class="no">{{ r.ref }}</span>
                  {{ words.stands(r) }}
                </span>
              </RouterLink>
            </li>
          </ul>
        </section>
      </template>
    </nav>
    <OneRun v-if="id" :id="id" :key="id" @decided="next" />
    <div v-else-if="!narrow" class="one quiet">{{ all.length ? t('decisions.choose') : '' }}</div>
  </main>
</template>

<style scoped>
.decisions {
  display: grid;
  grid-template-columns: 280px minmax(0, 1fr);
  height: calc(100dvh - 52px);
}
.list {
  border-right: 1px solid var(--tb-line);
  padding: 18px 20px;
  overflow-y: auto;
}
header,
h2 {
  display: flex;
  justify-content: space-between;
  align-items: baseline;
}
h1 {
  margin-bottom: var(--tb-s3);
}
.ways-on {
  display: grid;
  justify-items: end;
}
.ways-on a {
  min-height: 24px;
  min-width: 24px;
}
section {
  margin-bottom: var(--tb-s5);
}
h2 {
  padding-bottom: 5px;
  border-bottom: 1px solid var(--tb-ink);
  margin: 0;
}
h2 small {
  color: var(--tb-quiet);
  font-size: var(--tb-small);
  font-weight: 400;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li a {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  align-items: center;
  gap: 0 var(--tb-s2);
  margin: 0 -20px;
  padding: 7px 20px;
  border-bottom: 1px solid var(--tb-line);
  color: inherit;
  text-decoration: none;
}
li a:hover {
  background: var(--tb-sheet);
}
li a[aria-current] {
  background: var(--tb-selection);
  box-shadow: inset 3px 0 0 var(--tb-action);
}
.name {
  font-weight: 560;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.under {
  grid-column: 1 / -1;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.under .no {
  margin-right: var(--tb-s1);
}
.one {
  padding: 18px 32px;
}
@media (max-width: 900px) {
  .decisions {
    grid-template-columns: minmax(0, 1fr);
    height: auto;
  }
  .list {
    border: 0;
    padding: 14px 16px;
  }
  .reading .list {
    display: none;
  }
  li a {
    margin: 0 -16px;
    padding: 9px 16px;
  }
}
</style>
