<script setup lang="ts">
import IconSeal from '~icons/ph/seal-check'
import IconWaits from '~icons/ph/circle-dashed'

/** Whether something is sealed; the words beside it say so, too. */
defineProps<{ done: boolean }>()
</script>

<template>
  <IconSeal v-if="done" class="i done" aria-hidden="true" />
  <IconWaits v-else class="i" aria-hidden="true" />
</template>

<style scoped>
.i {
  flex: 0 0 auto;
  width: 18px;
  height: 18px;
  color: var(--tb-quiet);
}
.done {
  color: var(--tb-done);
}
</style>
