<script setup lang="ts">
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import Confirm from '../../parts/Confirm.vue'
import { useTray } from '../../uploads/tray'
import type { OnRow } from './bringing'

/** A file was dropped onto a document: whether it is a version of that is asked, with the note that others read. */
const props = defineProps<{ dropped: OnRow; mayAdd: boolean }>()
const emit = defineEmits<{ close: []; apart: [] }>()
const { t } = useI18n()
const tray = useTray()
const note = ref('')
function add() {
  tray.revise(props.dropped.id, props.dropped.brought.file, note.value.trim())
  emit('close')
}
</script>

<template>
  <Confirm class="asked" :act="t('dossier.asVersion')" :discard="t('common.discard')" @do="add" @discard="$emit('close')">
    <p>
      {{ t('dossier.newVersionOf', { file: dropped.brought.file.name, ref: dropped.ref }) }}
      <button v-if="mayAdd" type="button" class="go" @click="$emit('apart')">{{ t('dossier.ownDocument') }}</button>
    </p>
    <input
      v-model="note"
      class="form-control"
      maxlength="200"
      :aria-label="t('versions.note')"
      :placeholder="t('versions.noteHint')"
      autocomplete="off"
    />
  </Confirm>
</template>

<style scoped>
.asked {
  margin: var(--tb-s2) 20px;
}
.form-control {
  margin-top: var(--tb-s1);
  max-width: 340px;
  height: 30px;
}
p {
  margin: 0;
}
</style>
