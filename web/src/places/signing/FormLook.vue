<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, onUnmounted, ref, toRaw, watch } from 'vue'
import { useI18n } from 'vue-i18n'
import { api, data as answer, refusalOf } from '../../api/client'
import { boxStyle } from '../../parts/signing/word'
import { useSaid } from '../../sentences/said'
import { letterOf } from './placing'
import type { Row } from './rows'

/** How a form's paper will look for somebody: its pages with what is filled in, and where who signs. */
const props = defineProps<{ form: string; folder: string; row: Row }>()
const { t } = useI18n()
const said = useSaid()
const wish = refDebounced(
  computed(() => ({ folder: props.folder, row: toRaw(props.row) })),
  700,
)
const { data, error } = useQuery({
  queryKey: computed(() => ['signing', 'draft', 'look', props.form, JSON.stringify(wish.value)]),
  queryFn: () => answer(api.POST('/signing-forms/{id}/look', { params: { path: { id: props.form } }, body: wish.value })),
  placeholderData: (before) => before,
  retry: false,
})
const pictures = ref<string[]>([])
let asked = 0
watch(data, async (d) => {
  const mine = ++asked
  const drawn: string[] = []
  for (let n = 1; n <= Math.min(d?.pages.length ?? 0, 20); n++) {
    const got = await fetch(`/api/signing-forms/${props.form}/look/${n}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(wish.value),
    })
    if (!got.ok) throw await refusalOf(got)
    const picture = URL.createObjectURL(await got.blob())
    if (mine !== asked) {
      URL.revokeObjectURL(picture)
      drawn.forEach(URL.revokeObjectURL)
      return
    }
    drawn.push(picture)
    if (n > pictures.value.length || n === 1) pictures.value = [...drawn, ...pictures.value.slice(n)]
  }
  const old = pictures.value.filter((p) => !drawn.includes(p))
  pictures.value = drawn
  old.forEach((p) => URL.revokeObjectURL(p))
})
onUnmounted(() => {
  asked++
  pictures.value.forEach((p) => URL.revokeObjectURL(p))
})
</script>

<template>
  <div class="look" tabindex="0" role="region" :aria-label="t('signforms.look')">
    <p v-if="error" class="t-caution" role="alert">{{ said.problem(error) }}</p>
    <p v-else-if="!data" class="quiet">{{ t('common.loading') }}</p>
    <div v-for="(size, i) in data?.pages ?? []" :key="i" class="drawn" :style="{ aspectRatio: `${size.width} / ${size.height}` }">
      <img v-if="pictures[i]" :src="pictures[i]" :alt="t('signing.page', { n: i + 1 })" />
      <span
        v-for="p in (data?.places ?? []).filter((o) => o.page === i + 1)"
        :key="p.id"
        class="box"
        :class="p.kind === 'fixed' ? 'fixed' : `l${p.party % 4}`"
        :style="boxStyle(p.box)"
      >
        <template v-if="p.kind === 'fixed'">{{ p.value }}</template>
        <template v-else>
          <b>{{ letterOf(p.party) }}</b>
          {{ t(`signing.kind.${p.kind}`) }}
        </template>
      </span>
    </div>
  </div>
</template>

<style scoped>
.look {
  overflow: auto;
  padding: 16px;
  background: var(--tb-selection);
}
.drawn {
  position: relative;
  max-width: 560px;
  margin: 0 auto 16px;
  background: var(--tb-paper);
  box-shadow: 0 1px 4px var(--tb-shade);
  container-type: inline-size;
}
img {
  width: 100%;
  height: 100%;
  display: block;
}
.box {
  --c: var(--tb-party-a);
  position: absolute;
  border: 1.5px solid var(--c);
  border-radius: 2px;
  background: color-mix(in srgb, var(--tb-party-a) 12%, transparent);
  color: var(--tb-paper-ink);
  font: 1.7cqw/1 var(--bs-font-sans-serif);
  padding: 0 3px;
  overflow: hidden;
  white-space: nowrap;
}
.box b {
  color: var(--c);
}
.l1 {
  --c: var(--tb-party-b);
  border-style: dashed;
}
.l2 {
  --c: var(--tb-paper-ink);
  border-style: dotted;
}
.l3 {
  --c: var(--tb-party-d);
  border-style: double;
  border-width: 3px;
}
.fixed {
  border: 0;
  background: none;
  font-size: 2cqw;
  display: flex;
  align-items: center;
  border-bottom: 3px double var(--tb-party-a);
}
</style>
