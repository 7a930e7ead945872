<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import IconEye from '~icons/ph/eye'

/** Says that a dossier is looked at as somebody else would see it, or compared with that. */
defineProps<{ name: string; code: string }>()
const comparing = defineModel<boolean>('comparing', { required: true })
const { t } = useI18n()
</script>

<template>
  <div class="as small">
    <span>
      <IconEye class="i i-s" aria-hidden="true" />
      {{ t(comparing ? 'access.compared' : 'access.asSeen', { name }) }}
    </span>
    <span class="acts">
      <button type="button" class="go" :aria-pressed="comparing" @click="comparing = !comparing">
        {{ t(comparing ? 'access.compareNot' : 'access.compare') }}
      </button>
      <RouterLink :to="`/dossiers/${code}`">{{ t('access.myView') }}</RouterLink>
    </span>
  </div>
</template>

<style scoped>
.as {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s3);
  padding: 6px 20px;
  background: var(--tb-selection);
  border-bottom: 1px dashed var(--tb-action);
  font-weight: 560;
}
</style>
