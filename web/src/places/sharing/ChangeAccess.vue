<script setup lang="ts">
import { useAct } from '../../app/act'
import { computed, reactive } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, type Schemas } from '../../api/client'
import { useWallClock } from '../../app/wallclock'
import { useSaid } from '../../sentences/said'
import UntilGloss from '../../sentences/UntilGloss.vue'
import LevelChoice from './LevelChoice.vue'

/** A grant's terms, set anew under its row. */
const props = defineProps<{ grant: Schemas['Grant']; folder: boolean; manager: boolean }>()
const emit = defineEmits<{ done: [] }>()
const { t } = useI18n()
const said = useSaid()
const terms = reactive({
  level: props.grant.level,
  may: props.grant.level === 'own-set' ? (props.grant.may ?? []).filter((m) => m !== 'share') : [],
  until: props.grant.until,
  onward: props.grant.onward,
})
const { act, wrong } = useAct()
const { inDays } = useWallClock()
const week = computed(() => inDays(7, said.now.value))
const year = computed(() => inDays(366, said.now.value))

const save = () =>
  act(
    async () => {
      await api.PUT('/access/{id}', {
        params: { path: { id: props.grant.id } },
        body: {
          version: props.grant.version,
          level: terms.level,
          may: terms.level === 'own-set' ? terms.may : undefined,
          until: terms.until,
          onward: terms.onward,
        },
      })
      emit('done')
    },
    { done: t('access.changed', { who: props.grant.name }) },
  )
</script>

<template>
  <div class="written">
    <LevelChoice
      :level="terms.level"
      :may="terms.may"
      :folder="folder"
      :manager="manager"
      @set="(l, m) => ((terms.level = l), (terms.may = m))"
    />
    <label class="line">
      <input v-model="terms.onward" type="checkbox" class="form-check-input" :disabled="terms.level === 'manage'" />
      {{ t('access.mayOnward') }}
    </label>
    <div class="line">
      <label>
        <input type="checkbox" class="form-check-input" :checked="!!terms.until" @change="terms.until = terms.until ? undefined : week" />
        {{ t('access.endsBySelf') }}
      </label>
    </div>
    <UntilGloss v-if="terms.until" :until="terms.until" :latest="year" free @set="terms.until = $event" />
    <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    <div class="acts">
      <button type="button" class="btn btn-primary btn-small" @click="save">{{ t('access.save') }}</button>
      <button type="button" class="btn btn-text btn-small" @click="$emit('done')">{{ t('common.discard') }}</button>
    </div>
  </div>
</template>

<style scoped>
.written :deep(.levels) {
  grid-template-columns: 1fr;
}
.line {
  display: flex;
  gap: 6px;
  padding: var(--tb-s1) var(--tb-s2);
  font-size: var(--tb-text);
}
.line label {
  display: inline-flex;
  gap: 6px;
}
.acts {
  margin-top: var(--tb-s2);
}
</style>
