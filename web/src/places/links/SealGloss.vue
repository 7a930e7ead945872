<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import Choices from '../../parts/Choices.vue'
import { isWeak, leastPassphrase, offerPassphrase } from '../../sealed/words'
import type { Writing } from './writing'

/** By what a sealed transfer opens: the word of its sentence, opened. */
const props = defineProps<{ writing: Writing }>()
const { t } = useI18n()
const { terms, drop } = props.writing
const ways = computed(() =>
  (['key', 'passphrase'] as const).map((value) => ({ value, words: t(`transfers.seal.${value}`), why: t(`transfers.sealWhy.${value}`) })),
)
function choose(seal: 'key' | 'passphrase') {
  terms.sealed = seal
  terms.passphrase = seal === 'passphrase' ? (terms.passphrase ?? offerPassphrase()) : undefined
}
</script>

<template>
  <Choices :label="t('transfers.sealLabel')" :options="ways" :chosen="terms.sealed ?? 'key'" @choose="choose">
    <div v-if="terms.sealed === 'passphrase'" class="acts row-gloss">
      <label for="passphrase">{{ t('transfers.passphrase') }}</label>
      <input
        id="passphrase"
        v-model="terms.passphrase"
        class="form-control no phrase"
        autocomplete="off"
        spellcheck="false"
        :minlength="leastPassphrase"
        :aria-invalid="isWeak(terms.passphrase)"
      />
      <button type="button" @click="terms.passphrase = offerPassphrase()">{{ t('handout.offer') }}</button>
    </div>
    <div class="acts row-gloss">
      <span class="small quiet">{{ t('transfers.sealSays') }}</span>
      <button type="button" class="far" @click="drop('sealed')">{{ t('transfers.unsealed') }}</button>
    </div>
  </Choices>
</template>

<style scoped>
.phrase {
  width: min(380px, 100%);
}
</style>
