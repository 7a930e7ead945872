<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconCheck from '~icons/ph/check'
import type { Schemas } from '../../api/client'
import Bar from '../../parts/Bar.vue'
import MiddleName from '../../parts/MiddleName.vue'
import { useSaid } from '../../sentences/said'
import { useSending } from '../../uploads/sending'

/** A file of a transfer: how much of it is here, what that means for the recipients now, and how it goes on. */
const props = defineProps<{ n: number; name: string; file: Schemas['TransferFile']; open: boolean; alone: boolean }>()
const emit = defineEmits<{ leave: []; again: [files: File[]] }>()
const { t } = useI18n()
const said = useSaid()
const sending = useSending()
const input = ref<HTMLInputElement>()
const coming = computed(() => sending.of(props.file.id))
const received = computed(() => (props.file.here ? props.file.size : Math.max(props.file.received, coming.value?.sent ?? 0)))
const percent = computed(() => (props.file.size ? Math.floor((received.value / props.file.size) * 100) : props.file.here ? 100 : 0))
/** Nobody sends it from here, and it is not here. */
const stopped = computed(() => props.open && !props.file.here && (!coming.value || ['stopped', 'refused'].includes(coming.value.state)))
const now = computed(() => (props.file.here ? 'here' : received.value >= 64 * 1024 ? 'begun' : 'waits'))
function pick() {
  emit('again', [...input.value!.files!])
  input.value!.value = ''
}
</script>

<template>
  <div class="line" role="row" :data-file="name">
    <span class="no quiet" role="cell">{{ n }}</span>
    <span class="name" role="cell"><MiddleName :name="name" whole /></span>
    <span class="quiet r" role="cell">{{ said.size(file.size) }}</span>
    <span class="bar" role="cell">
      <Bar v-if="open && !file.here" :percent="percent" :label="`${t('transfers.progress')}: ${name}`" />
    </span>
    <span class="arrived" role="cell">
      <template v-if="file.here">
        <IconCheck class="i i-s ok" aria-hidden="true" />
        {{ file.sha256?.slice(0, 8) }}…{{ file.sha256?.slice(-4) }}
      </template>
      <b v-else-if="open">{{ percent }} %</b>
    </span>
    <span class="quiet small" role="cell">
      <span v-if="coming?.state === 'refused'" class="t-caution" role="alert">
        {{ coming.refusal ? said.problem(coming.refusal) : t('problem.offline') }}
      </span>
      <template v-else-if="stopped">{{ t('transfers.stopped') }}</template>
      <template v-else-if="open">{{ t(`transfers.state.${now}`) }}</template>
    </span>
    <span class="acts end" role="cell">
      <button v-if="stopped" type="button" class="go small" :aria-label="`${t('transfers.chooseAgain')} ${name}`" @click="input?.click()">
        {{ t('transfers.chooseAgain') }}
      </button>
      <input v-if="stopped" ref="input" type="file" hidden @change="pick" />
      <button v-if="coming?.state === 'running' || coming?.state === 'waiting'" type="button" class="go small" @click="coming.pause()">
        {{ t('transfers.pause') }}
      </button>
      <button v-else-if="coming?.state === 'paused' || coming?.state === 'refused'" type="button" class="go small" @click="coming.again()">
        {{ t('transfers.resume') }}
      </button>
      <button v-if="open && !alone" type="button" class="go small" :aria-label="t('transfers.leaveOne', { name })" @click="$emit('leave')">
        {{ t('transfers.leave') }}
      </button>
    </span>
  </div>
</template>

<style scoped>
.line {
  display: grid;
  grid-template-columns: 24px minmax(0, 1.4fr) 84px 200px 140px minmax(0, 1fr) 168px;
  gap: var(--tb-s3);
  align-items: center;
  min-height: 36px;
  border-bottom: 1px solid var(--tb-line);
}
.r {
  text-align: right;
}
.end {
  justify-content: flex-end;
}
.ok {
  color: var(--tb-done);
}
.arrived {
  white-space: nowrap;
}
@media (max-width: 900px) {
  .line {
    grid-template-columns: 24px minmax(0, 1fr) auto;
    padding: var(--tb-s1) 0;
  }
  .bar,
  .line > .quiet.small {
    grid-column: 2 / -1;
  }
  .arrived {
    grid-column: 2;
  }
}
</style>
