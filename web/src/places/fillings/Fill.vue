<script setup lang="ts">
import { useQueryClient } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data, Refusal } from '../../api/client'
import Failed from '../../app/Failed.vue'
import FillSheet from '../../parts/filling/FillSheet.vue'
import type { Filling, FillWord } from '../../parts/filling/word'
import { fillingKeys } from '../../queries/fillings'
import { useSaid } from '../../sentences/said'

/** Somebody signed in fills in a form, on their own. */
const props = defineProps<{ document: string }>()
const { t, locale } = useI18n()
const said = useSaid()
const queries = useQueryClient()
const path = { id: props.document }
const form = ref<Filling>()
const error = ref<unknown>()
const word: FillWord = (key, fill) => t(`fillsheet.${key}`, fill ?? {})
const ways = {
  load: () => data(api.GET('/documents/{id}/filling', { params: { path } })),
  keep: (answers: Record<string, string>, again?: boolean) =>
    data(api.PATCH('/documents/{id}/filling', { params: { path }, body: { answers, again } })),
  async handIn(version: number) {
    const standing = await data(api.POST('/documents/{id}/filling/handed', { params: { path }, body: { version } }))
    await queries.invalidateQueries({ queryKey: fillingKeys.all })
    return standing
  },
  failed(e: unknown) {
    if (e instanceof Refusal && (e.problem.status === 404 || e.problem.status === 403)) error.value = e
  },
}
async function load() {
  error.value = undefined
  try {
    form.value = await ways.load()
  } catch (e) {
    error.value = e
  }
}
void load()
</script>

<template>
  <main id="content" class="plain to-fill">
    <Failed v-if="error" :error="error" @again="load()" />
    <p v-else-if="!form" class="quiet">{{ t('common.loading') }}</p>
    <template v-else>
      <header>
        <div>
          <h1>{{ form.title || form.name }}</h1>
          <p class="terms">{{ t('fillings.own') }}</p>
        </div>
      </header>
      <FillSheet
        :form="form"
        :ways="ways"
        :word="word"
        :voice="{ language: locale, moment: (iso) => said.exact(iso), clock: (iso) => said.when(iso) }"
      />
    </template>
  </main>
</template>

<style scoped>
.to-fill {
  max-width: 860px;
}
.to-fill > header {
  margin-bottom: var(--tb-s4);
}
</style>
