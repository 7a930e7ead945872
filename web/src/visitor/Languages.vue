<script setup lang="ts">
import { useThisVisit } from './visit'
import { language } from './words'

/** The languages the page speaks; what was chosen stays. */
const visit = useThisVisit()
const all = { en: 'English', de: 'Deutsch' } as const
</script>

<template>
  <div class="lang">
    <button v-for="(name, l) in all" :key="l" type="button" :lang="l" :aria-pressed="language === l" @click="visit.speak(l, true)">
      {{ name }}
    </button>
  </div>
</template>
