<script setup lang="ts">
/** A page on which a paper is readied: who and how above, the paper itself, and below what is still missing and the act that does it. */
defineProps<{ caution?: boolean }>()
</script>

<template>
  <main id="content" class="frame">
    <header class="head"><slot name="head"></slot></header>
    <slot></slot>
    <footer class="bar">
      <p role="status" :class="{ 't-caution': caution }"><slot name="says"></slot></p>
      <slot name="act"></slot>
    </footer>
  </main>
</template>

<style scoped>
.frame {
  display: grid;
  grid-template-rows: auto 1fr auto;
  grid-template-columns: minmax(0, 1fr);
  height: calc(100dvh - 52px);
}
.head {
  padding: 8px 24px;
  border-bottom: 1px solid var(--tb-line);
  background: var(--tb-sheet);
}
.head :slotted(h1) {
  font-size: var(--tb-title);
  margin: 0;
}
.bar {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: var(--tb-s4);
  border-top: 2px solid var(--tb-ink);
  background: var(--tb-sheet);
  padding: 10px 24px;
}
.bar p {
  margin: 0;
}
@media (max-width: 900px) {
  .frame {
    height: auto;
  }
  .head {
    padding: 8px 16px;
  }
  .bar {
    position: sticky;
    bottom: 56px;
    flex-wrap: wrap;
    padding: 10px 16px;
  }
}
</style>
