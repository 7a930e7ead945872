<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconTrash from '~icons/ph/trash'
import Sheet from '../../parts/Sheet.vue'
import Consequences from '../sharing/Consequences.vue'
import { useDeletion } from './acts'

/** What is deleted, said with what that means for whom before it is done. */
const props = defineProps<{ items: string[]; what: string; share: boolean }>()
const emit = defineEmits<{ close: []; done: [] }>()
const { t } = useI18n()
const { remove, busy, wrong } = useDeletion()
const reason = ref('')
const main = ref<HTMLButtonElement>()
onMounted(() => main.value?.focus({ preventScroll: true }))
const go = () => remove(props.items, props.what, props.share, reason.value || undefined, () => emit('done'))
</script>

<template>
  <Sheet class="delete" :label="t('deletion.title', { what })" @escape="$emit('close')">
    <form class="write" @submit.prevent="go">
      <h2 class="acts sheet-title">
        <IconTrash aria-hidden="true" />
        {{ t('deletion.do') }}
      </h2>
      <p class="terms">{{ t('deletion.sentence', { what }) }}</p>
      <div class="consequence">
        <div>
          <span></span>
          <Consequences :what="{ delete: items }" />
          <span></span>
        </div>
      </div>
      <label class="small quiet" for="reason">{{ t('deletion.reason') }}</label>
      <input id="reason" v-model="reason" class="form-control" maxlength="200" :placeholder="t('deletion.reasonHint')" autocomplete="off" />
      <p v-if="wrong" class="t-caution" role="alert">{{ wrong }}</p>
    </form>
    <div class="side">
      <p class="small quiet">{{ t('deletion.hint') }}</p>
      <div class="acts end">
        <button ref="main" type="button" class="btn btn-primary" :disabled="busy" @click="go">{{ t('deletion.do') }}</button>
        <button type="button" class="btn btn-text" @click="$emit('close')">{{ t('common.discard') }}</button>
      </div>
    </div>
  </Sheet>
</template>

<style scoped>
.write {
  min-height: 168px;
}
.form-control {
  max-width: 460px;
}
</style>
