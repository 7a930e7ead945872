<script setup lang="ts">
/** The letter of a party: told apart by its line as well as by its colour, filled once it has signed. */
defineProps<{ letter: string; done?: boolean; waits?: boolean; over?: boolean }>()
</script>

<template>
  <span class="letter" :class="[`l${(letter.charCodeAt(0) - 65) % 4}`, { done, waits, over }]" aria-hidden="true">{{ letter }}</span>
</template>

<style scoped>
.letter {
  --c: var(--tb-party-a);
  display: inline-grid;
  place-items: center;
  width: 20px;
  height: 20px;
  border: 1.5px solid var(--c);
  border-radius: 3px;
  font-size: var(--tb-tiny);
  font-weight: 700;
  font-family: var(--bs-font-sans-serif);
  line-height: 1;
  color: var(--c);
  background: var(--tb-sheet);
}
.l1 {
  --c: var(--tb-party-b);
  border-style: dashed;
}
.l2 {
  --c: var(--tb-ink);
  border-style: dotted;
  border-width: 2px;
}
.l3 {
  --c: var(--tb-party-d);
  border-style: double;
  border-width: 3px;
}
.letter.done {
  background: var(--c);
  color: var(--tb-paper);
  border-color: var(--c);
}
.letter.waits {
  box-shadow:
    0 0 0 2px var(--tb-page),
    0 0 0 3.5px var(--tb-action);
}
.letter.over {
  text-decoration: line-through;
  opacity: 0.7;
}
</style>
