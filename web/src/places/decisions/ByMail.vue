<script setup lang="ts">
import { computed, ref } from 'vue'
import { useQuery } from '@tanstack/vue-query'
import { useI18n } from 'vue-i18n'
import { api, data } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import Mark from '../../parts/Mark.vue'
import { stemOf } from '../../i18n/words'
import { useSaid } from '../../sentences/said'
import RunWay from './RunWay.vue'
import Trail from './Trail.vue'
import WriteHere from './WriteHere.vue'

/** What a way in a mail leads to, without signing in: looking decides nothing, and it decides once. */
const props = defineProps<{ token: string }>()
const { t } = useI18n()
const said = useSaid()
const at = computed(() => ({ params: { path: { token: props.token } } }))
const { data: page, error } = useQuery({
  queryKey: ['way', props.token],
  queryFn: () => data(api.GET('/decide/{token}', at.value)),
  retry: false,
})
const returning = ref(false)
const done = ref<'agrees' | 'returns'>()
const { act, busy, wrong } = useAct({ apart: true })
const stop = computed(() => page.value?.line.stops[page.value.line.at - 1])
async function decide(verdict: 'agrees' | 'returns', note?: string) {
  const l = page.value!.line
  if (await act(() => api.POST('/decide/{token}', { ...at.value, body: { verdict, version: l.version, sha256: l.sha256, note } })))
    done.value = verdict
}
const over = computed(() => [404, 410].includes((error.value as { problem?: { status: number } } | null)?.problem?.status ?? 0))
const trail = computed(() => page.value?.trail.filter((e) => ['started', 'said', 'question', 'resumed', 'content'].includes(e.kind)) ?? [])
</script>

<template>
  <main id="content" class="plain way">
    <p class="brand">
      <Mark />
      {{ page?.practice }}
    </p>
    <div v-if="done" role="status">
      <h1>{{ t(done === 'agrees' ? 'decisions.mail.done' : 'decisions.mail.doneReturn') }}</h1>
      <p>
        <RouterLink class="go" to="/decisions">{{ t('decisions.mail.toApp') }}</RouterLink>
      </p>
    </div>
    <div v-else-if="over">
      <h1>{{ t('decisions.mail.over') }}</h1>
      <p>{{ t('decisions.mail.overHint') }}</p>
      <p>
        <RouterLink class="go" to="/decisions">{{ t('decisions.mail.toApp') }}</RouterLink>
      </p>
    </div>
    <Failed v-else-if="error" :error="error" />
    <p v-else-if="!page || !stop" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <p class="small quiet">{{ t('decisions.mail.for', { name: page.person, practice: page.practice }) }}</p>
      <p class="terms">{{ t('decisions.mail.asks', { do: t(`decisions.do.${stop.do}`), n: page.line.version }) }}</p>
      <h1>{{ stemOf(page.line.name) }}</h1>
      <p class="no quiet">{{ page.line.ref }}, SHA-256 {{ page.line.sha256.slice(0, 8) }}…{{ page.line.sha256.slice(-8) }}</p>
      <p v-if="page.instructions" class="terms letter">{{ page.instructions }}</p>
      <RunWay :line="page.line" />
      <WriteHere
        v-if="returning"
        :label="t('decisions.reason')"
        :act="t('decisions.returnDo')"
        needed
        :busy="busy"
        :wrong="wrong"
        @do="decide('returns', $event)"
        @close="returning = false"
      />
      <template v-else>
        <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
        <div class="acts">
          <button type="button" class="btn btn-primary" :disabled="busy" @click="decide('agrees')">
            {{ t(`decisions.agree.${stop.do}`, { n: page.line.version }) }}
          </button>
          <button type="button" class="btn btn-plain" @click="returning = true">{{ t('decisions.returnIt') }}</button>
        </div>
      </template>
      <p class="small quiet once">
        {{ t('decisions.mail.once') }}
        <RouterLink class="go" :to="{ path: `/d/${page.line.ref}`, query: { look: '1' } }">{{ t('decisions.mail.read') }}</RouterLink>
      </p>
      <h2>{{ t('decisions.said') }}</h2>
      <Trail :trail="trail" />
      <p class="small quiet" :title="said.full(page.line.since)">{{ said.when(page.line.since) }}</p>
    </template>
  </main>
</template>

<style scoped>
.way {
  max-width: 760px;
  margin: 0 auto;
  height: auto;
}
.brand {
  display: flex;
  align-items: center;
  gap: var(--tb-s2);
  font-weight: 560;
}
h1 {
  overflow-wrap: anywhere;
}
.acts {
  flex-wrap: wrap;
}
.once {
  margin-top: var(--tb-s3);
}
.letter {
  white-space: pre-line;
  overflow-wrap: anywhere;
}
</style>
