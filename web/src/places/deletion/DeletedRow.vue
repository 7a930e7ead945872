<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import IconBack from '~icons/ph/arrow-u-up-left'
import type { Schemas } from '../../api/client'
import { stemOf } from '../../i18n/words'
import { useSaid } from '../../sentences/said'
import { useDeletion } from './acts'

/** Something that was deleted: what, where it was, by whom and why, and for how long it can be brought back. */
const props = defineProps<{ row: Schemas['Deleted']; kept: number }>()
defineEmits<{ elsewhere: [] }>()
const chosen = defineModel<string[]>('chosen', { required: true })
const { t } = useI18n()
const said = useSaid()
const { bringBack, ask, busy } = useDeletion()
const name = computed(() => (props.row.kind === 'folder' ? props.row.name : stemOf(props.row.name)))
const holds = computed(() =>
  props.row.kind === 'folder'
    ? t(props.row.whole ? 'deletion.dossierWith' : 'deletion.folderWith', {
        what: t('common.documents', { n: props.row.documents }, props.row.documents),
        size: said.size(props.row.bytes),
      })
    : `${said.size(props.row.bytes)}, ${t('deletion.versions', { n: props.row.versions }, props.row.versions)}`,
)
</script>

<template>
  <tr :data-deleted="row.name">
    <td class="choose f-lead">
      <input
        v-if="row.mayBringBack || row.mayDestroy"
        v-model="chosen"
        type="checkbox"
        class="form-check-input"
        :value="row.id"
        :aria-label="`${t('dossier.columns.choose')} ${row.name}`"
      />
    </td>
    <td class="no f-away">{{ row.ref?.split('/')[1] ?? '–' }}</td>
    <td class="f-main">
      <b class="name">{{ name }}</b>
      <span class="s">{{ holds }}</span>
    </td>
    <td class="f-line">
      {{ row.whole ? '' : row.folder }}
      <span class="s">{{ row.folderGone && !row.whole ? t('deletion.goneToo') : row.code }}</span>
    </td>
    <td class="f-line">
      {{ t('deletion.byWhen', { by: row.byMe ? t('deletion.you') : row.by, when: said.when(row.at) }) }}
      <span class="s">{{ row.reason }}</span>
    </td>
    <td class="f-line left" :title="said.full(row.goes)">
      {{ t('deletion.days', { n: row.left }, row.left) }}
      <i class="line" aria-hidden="true"><i :style="{ width: `${(row.left / kept) * 100}%` }"></i></i>
      <span class="s">{{ t('deletion.goes', { when: said.day(row.goes) }) }}</span>
    </td>
    <td class="f-side r">
      <div v-if="row.mayBringBack" class="ways">
        <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="bringBack([row.id])">
          <IconBack class="i i-s" aria-hidden="true" />
          {{ t('deletion.bringBack') }}
        </button>
        <button v-if="!row.whole" type="button" class="go small" @click="$emit('elsewhere')">{{ t('deletion.elsewhere') }}</button>
        <button v-if="row.links && row.mayShare" type="button" class="go small" :disabled="busy" @click="bringBack([row.id], true)">
          {{ t('deletion.withLinks', { n: row.links }, row.links) }}
        </button>
      </div>
      <button v-else type="button" class="btn btn-plain btn-small" :disabled="busy" @click="ask(row.id, row.name)">
        {{ t('deletion.ask') }}
      </button>
    </td>
  </tr>
</template>

<style scoped>
.left {
  position: relative;
}
.line {
  position: absolute;
  top: 16px;
  right: 12px;
  width: 90px;
  height: 2px;
  background: var(--tb-line);
}
.line i {
  display: block;
  height: 2px;
  background: var(--tb-ink);
}
.ways {
  display: flex;
  flex-wrap: wrap;
  justify-content: flex-end;
  gap: 2px var(--tb-s2);
  text-align: right;
}
.ways .btn {
  flex: 0 0 auto;
  margin-left: auto;
}
.name {
  font-weight: 560;
}
@media (max-width: 900px) {
  .line {
    display: none;
  }
}
</style>
