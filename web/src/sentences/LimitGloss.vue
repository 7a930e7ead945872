<script setup lang="ts">
import { useId } from 'vue'
import { useI18n } from 'vue-i18n'

/** A number that limits a link: how often, how many, how much. */
defineProps<{ unit: string; most?: number; offers?: number[] }>()
defineEmits<{ drop: [] }>()
const limit = defineModel<number>()
const { t } = useI18n()
const id = useId()
</script>

<template>
  <div class="acts row-gloss">
    <label :for="id">{{ t('handout.openings') }}</label>
    <input :id="id" v-model.number="limit" class="form-control" type="number" min="1" :max="most" />
    <span>{{ unit }}</span>
    <button v-for="n in offers" :key="n" type="button" @click="limit = n">{{ n }}</button>
    <button type="button" class="far" @click="$emit('drop')">{{ t('handout.noLimit') }}</button>
  </div>
</template>
