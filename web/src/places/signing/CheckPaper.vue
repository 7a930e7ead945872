<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { sendFile, type Schemas } from '../../api/client'
import { useSaid } from '../../sentences/said'
import Verdict from './Verdict.vue'

/** Anybody has a signed PDF document checked. Nothing of it is kept. */
const { t } = useI18n()
const said = useSaid()
const check = ref<Schemas['PaperCheck']>()
const name = ref('')
const wrong = ref('')
const busy = ref(false)
async function take(files?: FileList | null) {
  const file = files?.[0]
  if (!file) return
  busy.value = true
  wrong.value = ''
  check.value = undefined
  name.value = file.name
  try {
    check.value = await sendFile<Schemas['PaperCheck']>('/api/paper-checks', file, 'application/pdf')
  } catch (e) {
    wrong.value = said.problem(e)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main id="content" class="checking" @dragover.prevent @drop.prevent="take($event.dataTransfer?.files)">
    <h1>{{ t('signing.check') }}</h1>
    <p class="terms">{{ t('signing.checkLead') }}</p>
    <p>
      <label class="btn btn-primary">
        {{ t('signing.checkChoose') }}
        <input
          type="file"
          accept="application/pdf,.pdf"
          class="visually-hidden"
          data-check
          @change="take(($event.target as HTMLInputElement).files)"
        />
      </label>
    </p>
    <p v-if="busy" role="status" class="quiet">{{ t('signing.checking') }}</p>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <section v-if="check" aria-live="polite">
      <h2>{{ name }}</h2>
      <Verdict :check="check" />
    </section>
    <p class="small quiet">
      {{ t('signing.checkRoots') }}
      <a class="link" href="/api/paper-checks/roots.pem">roots.pem</a>
    </p>
  </main>
</template>

<style scoped>
.link {
  text-decoration: underline;
}
.checking {
  max-width: 720px;
  padding: 24px;
}
</style>
