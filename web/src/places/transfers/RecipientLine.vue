<script setup lang="ts">
import { computed, ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconBell from '~icons/ph/bell'
import { api, type Schemas } from '../../api/client'
import { useAct } from '../../app/act'
import { useSaid } from '../../sentences/said'
import { useStops } from './recipients'

/** What became of a transfer for one recipient: told, opened, fetched, as stops on a line; and the act by which they are reminded. */
const props = defineProps<{ transfer: Schemas['Transfer']; recipient: Schemas['TransferRecipient'] }>()
const { t } = useI18n()
const said = useSaid()
const { act, busy } = useAct()
const { stops, hasAll } = useStops()
const line = computed(() => stops(props.transfer, props.recipient))
const reminds = computed(() => props.transfer.state === 'open' && !!props.recipient.toldAt && !hasAll(props.transfer, props.recipient))
/** Which files they have, where it is not all of them. */
const shown = ref(false)
const some = computed(() => !!props.recipient.which?.length && !hasAll(props.transfer, props.recipient))
const names = ['toldAt', 'opened', 'fetched'] as const
const remind = () =>
  act(() => api.POST('/transfers/{id}/reminder', { params: { path: { id: props.transfer.id } }, body: { to: props.recipient.address } }), {
    done: t('transfers.reminded', { who: props.recipient.address }),
    aloud: true,
  })
</script>

<template>
  <li class="recipient" :data-recipient="recipient.address">
    <b class="address">{{ recipient.address || t('transfers.theLink') }}</b>
    <span v-for="(s, i) in line" :key="i" class="stop" :class="{ done: s.done, late: s.late }" :title="s.at && said.full(s.at)">
      <i aria-hidden="true"></i>
      <span class="kind">{{ t(`transfers.${names[i]!}`) }}:</span>
      <span class="at">{{ s.words }}</span>
      <i v-if="i < 2" class="way" :class="{ done: line[i + 1]!.done }" aria-hidden="true"></i>
    </span>
    <span class="acts end">
      <button v-if="some" type="button" class="go small" :aria-expanded="shown" @click="shown = !shown">{{ t('transfers.which') }}</button>
      <span v-if="recipient.remindedAt" class="small quiet">{{ t('transfers.remindedAt', { at: said.when(recipient.remindedAt) }) }}</span>
      <button
        v-if="reminds"
        type="button"
        class="btn btn-plain btn-small"
        :disabled="busy"
        :aria-label="`${t('transfers.remind')} ${recipient.address}`"
        @click="remind"
      >
        <IconBell class="i i-s" aria-hidden="true" />
        {{ t('transfers.remind') }}
      </button>
    </span>
    <p v-if="shown" class="which small quiet">{{ recipient.which?.join(', ') }}</p>
  </li>
</template>

<style scoped>
.recipient {
  display: grid;
  grid-template-columns: 216px 186px 186px minmax(0, 1fr) auto;
  align-items: center;
  min-height: 28px;
}
.address {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  padding-right: var(--tb-s2);
}
.stop {
  display: flex;
  align-items: center;
  gap: var(--tb-s2);
  min-width: 0;
  color: var(--tb-quiet);
}
.stop > i:first-child {
  flex: none;
  width: 9px;
  height: 9px;
  border: 2px solid var(--tb-edge);
  border-radius: 50%;
}
.stop.done {
  color: inherit;
}
.stop.done > i:first-child {
  background: var(--tb-ink);
  border-color: var(--tb-ink);
}
.late .at {
  font-weight: 620;
  color: var(--tb-ink);
}
.at {
  white-space: nowrap;
}
.which {
  grid-column: 2 / -1;
  margin: 0;
}
.way {
  flex: 1;
  margin-right: var(--tb-s2);
  border-top: 2px dashed var(--tb-rule);
}
.way.done {
  border-top: 2px solid var(--tb-ink);
}
@media (min-width: 901px) {
  /* The head of the list says it. */
  .kind {
    position: absolute;
    width: 1px;
    height: 1px;
    overflow: hidden;
    clip-path: inset(50%);
  }
}
@media (max-width: 900px) {
  .recipient {
    grid-template-columns: 1fr;
    padding: var(--tb-s2) 0;
    border-bottom: 1px solid var(--tb-line);
  }
  .way {
    display: none;
  }
  .acts.end {
    justify-content: flex-start;
    margin-top: var(--tb-s1);
  }
}
</style>
