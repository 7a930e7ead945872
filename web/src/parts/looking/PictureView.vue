<script setup lang="ts">
import { computed, ref } from 'vue'
import { useElementSize } from '@vueuse/core'
import ReaderBar from './ReaderBar.vue'
import type { LookWord } from './word'

/** A picture: fitted or as large as one likes, and turned by quarters. Turning is for looking; the file stays as it is. */
const props = defineProps<{ src: string; name: string; word: LookWord }>()
defineEmits<{ failed: [] }>()
const size = ref('fit')
const sizes = computed(() => [
  { value: 'fit', words: props.word('whole') },
  ...['0.5', '1', '2', '4'].map((s) => ({ value: s, words: `${Number(s) * 100} %` })),
])
const quarter = ref(0)
const natural = ref({ width: 0, height: 0 })
const frame = ref<HTMLElement>()
const { width: w, height: h } = useElementSize(frame)
const lies = computed(() => quarter.value % 2 === 1)
const scale = computed(() => {
  const { width, height } = natural.value
  if (size.value !== 'fit' || !width) return Number(size.value) || 1
  return Math.min(1, w.value / (lies.value ? height : width), h.value / (lies.value ? width : height))
})
/** The space it takes, and the picture turned within that. */
const box = computed(() => {
  const [across, down] = [natural.value.width * scale.value, natural.value.height * scale.value]
  return {
    outer: { width: `${lies.value ? down : across}px`, height: `${lies.value ? across : down}px` },
    inner: { width: `${across}px`, height: `${down}px`, transform: `translate(-50%, -50%) rotate(${quarter.value * 90}deg)` },
  }
})
const measure = (e: Event) => {
  const { naturalWidth: width, naturalHeight: height } = e.target as HTMLImageElement
  // A drawing without a size of its own is shown in a usual one.
  natural.value = width ? { width, height } : { width: 1200, height: 900 }
}
</script>

<template>
  <div class="picture">
    <ReaderBar v-model:size="size" :word="word" :sizes="sizes" turnable @turn="quarter = (quarter + 1) % 4" />
    <div ref="frame" class="view-frame" tabindex="0" role="region" :aria-label="name">
      <div class="space" :style="box.outer">
        <img :src="src" :alt="name" :style="box.inner" :data-turned="quarter" @load="measure" @error="$emit('failed')" />
      </div>
    </div>
  </div>
</template>

<style scoped>
.picture {
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  height: 100%;
  min-height: 0;
}
.view-frame {
  overflow: auto;
  display: grid;
  place-items: safe center;
}
.space {
  position: relative;
  overflow: hidden;
}
img {
  position: absolute;
  left: 50%;
  top: 50%;
  max-width: none;
  background: var(--tb-paper);
}
</style>
