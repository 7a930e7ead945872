<script setup lang="ts">
import { onMounted, ref } from 'vue'
import type { ComponentPublicInstance } from 'vue'
import { useI18n } from 'vue-i18n'
import MenuList, { type Entry } from '../../parts/MenuList.vue'

/** The acts of a row, where the pointer is: by right click, long press or the menu key. */
const props = defineProps<{ x: number; y: number; acts: Entry[] }>()
defineEmits<{ close: [] }>()
const { t } = useI18n()
const list = ref<ComponentPublicInstance>()
const place = ref({ left: `${props.x}px`, top: `${props.y}px` })

onMounted(() => {
  const box = (list.value?.$el as HTMLElement).getBoundingClientRect()
  place.value = {
    left: `${Math.max(8, Math.min(props.x, innerWidth - box.width - 8))}px`,
    top: `${Math.max(8, Math.min(props.y, innerHeight - box.height - 8))}px`,
  }
})
</script>

<template>
  <MenuList ref="list" class="row-menu" :label="t('dossier.rowActs')" :entries="acts" :style="place" @close="$emit('close')" />
</template>

<style scoped>
.row-menu {
  position: fixed;
}
</style>
