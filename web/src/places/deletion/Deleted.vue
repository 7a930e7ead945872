<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import Failed from '../../app/Failed.vue'
import type { Schemas } from '../../api/client'
import Confirm from '../../parts/Confirm.vue'
import Rows from '../../parts/Rows.vue'
import SentenceSelect from '../../parts/SentenceSelect.vue'
import { useDeletions } from '../../queries/deletion'
import { useSaid } from '../../sentences/said'
import { useDeletion } from './acts'
import DeletedRow from './DeletedRow.vue'
import MoveSheet from '../sharing/MoveSheet.vue'

/** What was deleted, in a dossier or by oneself anywhere, with the days that are left. */
const props = defineProps<{ code?: string }>()
const { t } = useI18n()
const said = useSaid()
const mine = ref(!props.code)
const chosen = ref<string[]>([])
const destroying = ref(false)
/** What is to be brought back to another folder than it was in. */
const elsewhere = ref<Schemas['Deleted'][]>([])
const goal = computed(() => ({
  deletions: elsewhere.value.map((r) => r.id),
  items: elsewhere.value.map((r) => r.itemId),
  names: elsewhere.value.map((r) => r.name),
  from: elsewhere.value[0]?.code,
}))
const typed = ref('')
const { bringBack, destroy, busy, wrong } = useDeletion()
const {
  data: pages,
  error,
  refetch,
  fetchNextPage,
  hasNextPage,
} = useDeletions(() => ({
  dossier: props.code,
  mine: mine.value || undefined,
}))
const rows = computed(() => pages.value?.pages.flatMap((p) => p.rows) ?? [])
const kept = computed(() => pages.value?.pages[0]?.keptDays ?? 60)
const first = computed(() => rows.value.reduce((a, r) => (!a || r.goes < a ? r.goes : a), ''))
watch(rows, (now) => (chosen.value = chosen.value.filter((id) => now.some((r) => r.id === id))))
const picked = computed(() => rows.value.filter((r) => chosen.value.includes(r.id)))
const columns = computed(() => [
  { words: t('dossier.columns.choose'), hidden: true, width: 32 },
  { words: t('deletion.columns.no'), width: 60, away: true },
  { words: t('deletion.columns.what') },
  { words: t('deletion.columns.where'), width: 170 },
  { words: t('deletion.columns.by'), width: 210 },
  { words: t('deletion.columns.left'), width: 190 },
  { width: 188 },
])
const whose = computed(() => [false, true].map((value) => ({ value, words: t(value ? 'deletion.byMe' : 'deletion.byAnyone') })))
async function destroyAll() {
  if (await destroy(chosen.value, typed.value)) {
    destroying.value = false
    typed.value = ''
  }
}
</script>

<template>
  <main id="content" class="plain deleted">
    <header>
      <div>
        <h1>{{ t('deletion.deletedTitle') }}</h1>
        <p v-if="rows.length" class="terms">
          {{ t('deletion.summary', { n: said.count(rows.length) }, rows.length) }}
          <b>{{ t('deletion.firstGoes', { when: said.day(first) }) }}</b>
        </p>
      </div>
      <div class="acts">
        <button
          v-if="picked.length && picked.every((r) => r.mayBringBack)"
          type="button"
          class="btn btn-plain"
          :disabled="busy"
          @click="bringBack(chosen)"
        >
          {{ t('deletion.bringBackMany', { n: chosen.length }, chosen.length) }}
        </button>
        <button
          v-if="picked.length > 1 && picked.every((r) => r.mayBringBack && !r.whole)"
          type="button"
          class="btn btn-text"
          @click="elsewhere = picked"
        >
          {{ t('deletion.elsewhere') }}
        </button>
        <button
          v-if="code && picked.length && picked.every((r) => r.mayDestroy)"
          type="button"
          class="btn btn-plain"
          @click="destroying = true"
        >
          {{ t('deletion.destroy') }}
        </button>
      </div>
    </header>
    <p class="small quiet of">
      {{ t('deletion.showing') }}
      <SentenceSelect v-model="mine" :label="t('deletion.showing')" :options="whose" then="." />
      {{ ' ' }}
      {{ t('deletion.kept', { n: kept }, kept) }}
    </p>
    <Confirm
      v-if="destroying"
      :act="t('deletion.destroyDo')"
      :discard="t('common.discard')"
      :wrong="wrong"
      :busy="busy"
      :unready="typed.trim().toUpperCase() !== code"
      @do="destroyAll"
      @discard="destroying = false"
    >
      <p>{{ t('deletion.destroySentence', { n: chosen.length }, chosen.length) }}</p>
      <label class="small" for="destroy-code">{{ t('deletion.typeCode', { code }) }}</label>
      <input id="destroy-code" v-model="typed" class="form-control" autocomplete="off" spellcheck="false" maxlength="20" />
    </Confirm>
    <MoveSheet v-if="elsewhere.length" :key="goal.items.join()" v-bind="goal" @close="elsewhere = []" />
    <Failed v-if="error && !pages" :error="error" @again="refetch()" />
    <div v-else-if="pages && !rows.length" class="empty">
      <h2>{{ t('deletion.emptyTitle') }}</h2>
      <p>{{ t('deletion.empty', { n: kept }, kept) }}</p>
      <RouterLink class="btn btn-plain" :to="code ? `/dossiers/${code}` : '/dossiers'">
        {{ code ? t('deletion.toDossier', { code }) : t('dossier.toDossiers') }}
      </RouterLink>
    </div>
    <Rows v-else-if="pages" :columns="columns" :label="t('deletion.deletedTitle')" class="toned">
      <tbody>
        <DeletedRow v-for="r in rows" :key="r.id" v-model:chosen="chosen" :row="r" :kept="kept" @elsewhere="elsewhere = [r]" />
      </tbody>
    </Rows>
    <p v-else class="quiet">{{ t('common.loading') }}</p>
    <button v-if="hasNextPage" type="button" class="btn btn-plain more" @click="fetchNextPage()">{{ t('common.more') }}</button>
  </main>
</template>

<style scoped>
.of {
  margin: var(--tb-s2) 0;
}
.form-control {
  width: 160px;
}
.more {
  margin-top: var(--tb-s3);
}
</style>
