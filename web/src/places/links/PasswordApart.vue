<script setup lang="ts">
import { computed } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import IconCopy from '~icons/ph/copy'
import { copyText } from '../../app/clipboard'
import { tell } from '../../app/toasts'
import { useSession } from '../../app/session'

/** The password of a link, handed over by another way than the link. */
const props = defineProps<{ name: string; by: string; password: string }>()
const { t } = useI18n()
const store = useSession()
const filled = computed(() => ({ name: props.name, practice: store.practice?.name ?? '', password: props.password, me: props.by }))
const copy = async () => (await copyText(t('handout.passwordText', filled.value))) && tell(t('handout.passwordCopied'))
</script>

<template>
  <div>
    <h3>{{ t('handout.passwordOwn') }}</h3>
    <p class="small quiet why">{{ t('handout.passwordWhy') }}</p>
    <blockquote class="terms">
      <I18nT keypath="handout.passwordText" scope="global">
        <template #name>{{ filled.name }}</template>
        <template #practice>{{ filled.practice }}</template>
        <template #password>
          <b class="no nb">{{ password }}</b>
        </template>
        <template #me>{{ by }}</template>
      </I18nT>
    </blockquote>
    <button type="button" class="btn btn-plain btn-small" @click="copy">
      <IconCopy class="i i-s" aria-hidden="true" />
      {{ t('handout.copyMessage') }}
    </button>
  </div>
</template>

<style scoped>
.why {
  margin: 2px 0 8px;
}
</style>
