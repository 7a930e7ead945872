<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import { usePlaces, type Pair } from '../../queries/comparison'

/** Two pages beside each other; where they differ is framed on both. */
const props = defineProps<{ page: Schemas['ComparedPage']; pair: Pair; from: Schemas['ComparedSide']; to: Schemas['ComparedSide'] }>()
const { t } = useI18n()
const both = computed(() => (props.page.before && props.page.now ? { before: props.page.before, now: props.page.now } : undefined))
const { data: places } = usePlaces(() => props.pair, both)
const source = (side: Schemas['ComparedSide'], page: number) => `/api/documents/${side.id}/pages/${page}?version=${side.version}&width=1100`
const sides = computed(() => [
  { side: props.from, page: props.page.before, words: t('comparison.pageOf', { page: props.page.before, n: props.from.version }) },
  { side: props.to, page: props.page.now, words: t('comparison.pageOf', { page: props.page.now, n: props.to.version }) },
])
/** Boxes are told in points of the wider of both pages; a page may be lower than the other. */
const part = (n: number) => n / (places.value?.width ?? 1)
const box = (b: Schemas['ComparedPlace']) => ({
  left: `${part(b.x) * 100}%`,
  width: `${part(b.width) * 100}%`,
  top: `${part(b.y) * 100}cqw`,
  height: `${part(b.height) * 100}cqw`,
})
</script>

<template>
  <div class="beside" :data-change="both ? undefined : ''" tabindex="-1">
    <figure v-for="(s, i) in sides" :key="i">
      <figcaption class="small quiet">{{ s.page ? s.words : t(i ? 'comparison.pageGone' : 'comparison.pageNew') }}</figcaption>
      <div v-if="s.page" class="sheet-of">
        <img :src="source(s.side, s.page)" :alt="s.words" loading="lazy" width="1100" />
        <template v-if="places">
          <i
            v-for="(b, n) in places.places"
            :key="n"
            class="place"
            :class="i ? 'now' : 'before'"
            :data-change="i ? n : undefined"
            tabindex="-1"
            :style="box(b)"
          ></i>
        </template>
      </div>
    </figure>
  </div>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: var(--tb-s4);
  margin-bottom: var(--tb-s4);
}
figure {
  margin: 0;
}
.sheet-of {
  position: relative;
  container-type: inline-size;
  border: 1px solid var(--tb-line);
  background: var(--tb-sheet);
}
img {
  display: block;
  width: 100%;
  height: auto;
}
.place {
  position: absolute;
  box-sizing: content-box;
  padding: 2px;
  margin: -4px;
  border: 2px solid var(--tb-action);
}
.before {
  border-style: dashed;
}
@media (max-width: 900px) {
  .beside {
    gap: var(--tb-s2);
  }
}
</style>
