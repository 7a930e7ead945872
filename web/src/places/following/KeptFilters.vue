<script setup lang="ts">
import { nextTick, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconX from '~icons/ph/x'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useFilters } from '../../queries/following'

/** Filters that I keep under a name: chosen, kept and forgotten by one act each. */
const props = defineProps<{ filter: Schemas['ActivityFilter']; usual: boolean }>()
const emit = defineEmits<{ choose: [filter: Schemas['ActivityFilter']] }>()
const { t } = useI18n()
const { data: kept } = useFilters()
const { act, busy, wrong } = useAct()
const naming = ref(false)
const name = ref('')
const field = ref<HTMLInputElement>()
const isThis = (f: Schemas['ActivityFilter']) => same(f) === same(props.filter)
const same = (f: Schemas['ActivityFilter']) =>
  JSON.stringify(
    Object.entries(f)
      .filter(([, v]) => v)
      .sort(),
  )

async function ask() {
  naming.value = true
  name.value = ''
  await nextTick()
  field.value?.focus()
}
async function keep() {
  const done = () => t('following.filterKept', { name: name.value.trim() })
  if (await act(() => api.POST('/activity/filters', { body: { name: name.value, filter: props.filter } }), { done })) naming.value = false
}
const forget = (f: Schemas['KeptFilter']) =>
  act(() => api.DELETE('/activity/filters/{id}', { params: { path: { id: f.id } } }), {
    done: t('following.filterForgotten', { name: f.name }),
    undo: {
      do: () => api.POST('/activity/filters', { body: { name: f.name, filter: f.filter } }),
      done: t('following.filterKept', { name: f.name }),
    },
  })
</script>

<template>
  <div class="kept small">
    <ul v-if="kept?.length" :aria-label="t('following.kept')">
      <li v-for="f in kept" :key="f.id">
        <button type="button" class="go" :aria-pressed="isThis(f.filter)" @click="emit('choose', f.filter)">{{ f.name }}</button>
        <button
          v-if="isThis(f.filter)"
          type="button"
          class="forget"
          :aria-label="t('following.forget', { name: f.name })"
          :disabled="busy"
          @click="forget(f)"
        >
          <IconX class="i i-s" aria-hidden="true" />
        </button>
      </li>
    </ul>
    <form v-if="naming" class="acts" @submit.prevent="keep" @keydown.esc.stop="naming = false">
      <input
        ref="field"
        v-model="name"
        class="form-control"
        maxlength="60"
        :aria-label="t('following.nameIt')"
        :placeholder="t('following.nameIt')"
        required
      />
      <button type="submit" class="btn btn-primary btn-small" :disabled="busy">{{ t('following.keep') }}</button>
      <button type="button" class="btn btn-text btn-small" @click="naming = false">{{ t('common.discard') }}</button>
    </form>
    <button v-else-if="!usual && !kept?.some((f) => isThis(f.filter))" type="button" class="go" @click="ask">
      {{ t('following.keepThis') }}
    </button>
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
  </div>
</template>

<style scoped>
.kept {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: var(--tb-s1) var(--tb-s4);
}
.kept ul {
  display: flex;
  flex-wrap: wrap;
  gap: var(--tb-s1) var(--tb-s4);
}
.kept li {
  display: flex;
  align-items: center;
  gap: var(--tb-s1);
}
[aria-pressed='true'] {
  font-weight: 560;
  color: var(--tb-ink);
}
.forget {
  display: grid;
  place-items: center;
  min-width: 24px;
  min-height: 24px;
  color: var(--tb-quiet);
}
.form-control {
  max-width: 220px;
}
</style>
