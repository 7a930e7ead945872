<script setup lang="ts">
import { api, data } from '../api/client'
import FillSheet from '../parts/filling/FillSheet.vue'
import type { Filling } from '../parts/filling/word'
import { useThisVisit } from './visit'
import { language, say, sayFill } from './words'

/** A visitor fills in what the link asks. */
defineProps<{ form: Filling }>()
const visit = useThisVisit()
const path = { token: visit.token }
const ways = {
  load: () => data(api.GET('/to-fill/{token}', { params: { path } })),
  keep: (answers: Record<string, string>, again?: boolean) =>
    data(api.PATCH('/to-fill/{token}', { params: { path }, body: { answers, again } })),
  handIn: (version: number, name?: string) => data(api.POST('/to-fill/{token}/handed', { params: { path }, body: { version, name } })),
  failed: visit.failed,
}
const at = (iso: string, how: Intl.DateTimeFormatOptions) => new Date(iso).toLocaleString(language.value, how)
</script>

<template>
  <p v-if="visit.wrong.value && visit.wrong.value !== say('offline')" class="wrong" role="alert">{{ visit.wrong.value }}</p>
  <FillSheet
    visitor
    :form="form"
    :ways="ways"
    :word="sayFill"
    :voice="{
      language,
      moment: (iso) => at(iso, { weekday: 'short', day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit', hour12: false }),
      clock: (iso) => at(iso, { hour: '2-digit', minute: '2-digit', hour12: false }),
    }"
  />
</template>
