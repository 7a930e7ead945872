<script setup lang="ts">
import { computed, nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import Failed from '../../app/Failed.vue'
import { useSession } from '../../app/session'
import Confirm from '../../parts/Confirm.vue'
import { useTags } from '../../queries/tags'
import TagName from './TagName.vue'

/** All tags: the practice's and my own, how many documents bear each, called otherwise, made one, or taken off everything. */
const { t } = useI18n()
const { data: all, error, refetch } = useTags()
const { act, busy, wrong } = useAct()
const store = useSession()
type Counted = Schemas['CountedTag']
const administers = computed(() => ['proprietor', 'administrator'].includes(store.session?.standing ?? ''))
const groups = computed(() =>
  [false, true].map((own) => ({ own, tags: all.value?.filter((g) => g.own === own) ?? [] })).filter((g) => g.tags.length),
)
const may = (g: Counted) => g.own || administers.value
const naming = ref<Counted>()
const name = ref('')
const removing = ref<Counted>()
/** A name that another has already makes both one. */
const same = computed(() =>
  all.value?.find(
    (g) => g.own === naming.value?.own && g.id !== naming.value?.id && g.name.toLowerCase() === name.value.trim().toLowerCase(),
  ),
)
const field = ref<HTMLInputElement[]>()
async function begin(g: Counted) {
  naming.value = g
  name.value = g.name
  await nextTick()
  field.value?.[0]?.select()
}
async function rename() {
  const g = naming.value!
  const done = same.value
    ? t('tags.merged', { name: g.name, into: same.value.name })
    : t('tags.renamed', { from: g.name, to: name.value.trim() })
  if (await act(() => api.PUT('/tags/{id}', { params: { path: { id: g.id } }, body: { name: name.value } }), { done }))
    naming.value = undefined
}
async function remove() {
  const g = removing.value!
  if (await act(() => api.DELETE('/tags/{id}', { params: { path: { id: g.id } } }), { done: t('tags.removed', { name: g.name }) }))
    removing.value = undefined
}
</script>

<template>
  <main id="content" class="plain tags">
    <header>
      <div>
        <h1>{{ t('tags.title') }}</h1>
        <p class="quiet">{{ t('tags.about') }}</p>
      </div>
    </header>
    <Failed v-if="error && !all" :error="error" @again="refetch()" />
    <p v-else-if="all && !all.length" class="quiet">{{ t('tags.none') }}</p>
    <section v-for="g in groups" :key="String(g.own)">
      <h2>{{ t(g.own ? 'tags.mineAll' : 'tags.practiceAll') }}</h2>
      <ul>
        <li v-for="one in g.tags" :key="one.id">
          <form v-if="naming?.id === one.id" class="acts" @submit.prevent="rename" @keydown.esc.stop="naming = undefined">
            <input ref="field" v-model="name" class="form-control" maxlength="60" :aria-label="t('tags.name')" required />
            <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t(same ? 'tags.makeOne' : 'slip.rename') }}</button>
            <button type="button" class="btn btn-text btn-small" @click="naming = undefined">{{ t('common.discard') }}</button>
            <span v-if="same" class="small quiet">{{ t('tags.willMerge', { into: same.name }) }}</span>
          </form>
          <Confirm
            v-else-if="removing?.id === one.id"
            class="whole"
            :act="t('tags.remove')"
            :discard="t('common.discard')"
            :busy="busy"
            @do="remove"
            @discard="removing = undefined"
          >
            {{ t('tags.removeAsk', { name: one.name, n: one.documents }, one.documents) }}
          </Confirm>
          <template v-else>
            <RouterLink :to="{ path: '/find', query: { tag: one.id } }">
              <TagName :name="one.name" :own="one.own" :mine="t('tags.mineAlone')" />
            </RouterLink>
            <span class="small quiet">{{ t('common.documents', { n: one.documents }, one.documents) }}</span>
            <span v-if="may(one)" class="acts">
              <button type="button" class="go small" @click="begin(one)">{{ t('slip.rename') }}</button>
              <button type="button" class="go small" @click="removing = one">{{ t('tags.remove') }}</button>
            </span>
          </template>
        </li>
      </ul>
    </section>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </main>
</template>

<style scoped>
.tags {
  max-width: 760px;
}
h2 {
  padding-top: var(--tb-s4);
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: var(--tb-s4);
  align-items: center;
  min-height: 38px;
  border-bottom: 1px solid var(--tb-line);
}
li form,
.whole {
  grid-column: 1 / -1;
  flex-wrap: wrap;
}
li a {
  color: inherit;
}
.form-control {
  max-width: 240px;
}
@media (max-width: 900px) {
  li {
    grid-template-columns: minmax(0, 1fr) auto;
    gap: var(--tb-s1) var(--tb-s4);
    padding: var(--tb-s2) 0;
  }
}
</style>
