<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import { useSession } from '../../app/session'
import { useLanguage } from '../../i18n'
import Mark from '../../parts/Mark.vue'

/** The two-part page in front of the practice: who it is at the left, what to do at the right. */
defineProps<{ title: string; intro: string }>()
const { t, locale } = useI18n()
const store = useSession()
</script>

<template>
  <div class="door-step">
    <header class="left">
      <div class="house">
        <Mark />
        <span>
          <b>{{ store.practice?.name }}</b>
          <br />
          <span class="small">{{ store.practice?.tagline }}</span>
        </span>
      </div>
      <div class="intro">
        <h1>{{ title }}</h1>
        <p class="terms">{{ intro }}</p>
      </div>
      <p class="small help">{{ t('signin.trouble', { helper: store.practice?.helper ?? '' }) }}</p>
    </header>
    <main id="content" class="right">
      <div class="langs">
        <button type="button" lang="en" :aria-pressed="locale === 'en'" @click="useLanguage('en')">English</button>
        <button type="button" lang="de" :aria-pressed="locale === 'de'" @click="useLanguage('de')">Deutsch</button>
      </div>
      <slot></slot>
    </main>
  </div>
</template>

<style scoped>
.door-step {
  display: grid;
  grid-template-columns: minmax(0, 480px) minmax(0, 1fr);
  min-height: 100dvh;
  background: var(--tb-sheet);
}
.left {
  background: var(--tb-band);
  color: var(--tb-band-ink);
  padding: 40px 56px 32px;
  display: flex;
  flex-direction: column;
}
.house {
  display: flex;
  gap: var(--tb-s3);
  align-items: center;
  font-family: 'Literata Variable', serif;
  font-size: var(--tb-large);
  line-height: 20px;
}
.house svg {
  width: 32px;
  height: 35px;
  fill: currentColor;
}
.house .small,
.help {
  color: var(--tb-band-quiet);
  font-family: var(--bs-font-sans-serif);
}
.intro {
  margin-top: 22vh;
}
.intro h1 {
  font-size: var(--tb-letter);
  line-height: 40px;
  margin-bottom: var(--tb-s3);
}
.intro .terms {
  font-size: var(--tb-large);
  line-height: 28px;
}
.help {
  margin-top: auto;
}
.right {
  padding: 40px 72px 32px 64px;
  display: flex;
  flex-direction: column;
}
.langs {
  display: flex;
  gap: 18px;
  justify-content: flex-end;
  font-size: var(--tb-text);
  margin-bottom: 14vh;
}
.langs button {
  color: var(--tb-action);
  padding: 2px 0;
}
.langs [aria-pressed='true'] {
  color: var(--tb-ink);
  box-shadow: 0 2px 0 var(--tb-action);
}
@media (max-width: 900px) {
  .door-step {
    display: block;
  }
  .left {
    padding: var(--tb-s4) var(--tb-s5);
  }
  .intro {
    margin-top: 14px;
  }
  .intro h1 {
    font-size: var(--tb-write);
    line-height: 28px;
    margin: 0 0 var(--tb-s1);
  }
  .intro .terms {
    font-size: var(--tb-read);
    line-height: 22px;
  }
  .help {
    display: none;
  }
  .right {
    padding: var(--tb-s4) var(--tb-s5) var(--tb-s6);
  }
  .langs {
    margin-bottom: var(--tb-s4);
  }
}
</style>
