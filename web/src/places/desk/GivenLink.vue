<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Door from '../../parts/Door.vue'
import Terms from '../../parts/Terms.vue'
import { useSaid } from '../../sentences/said'
import { useLinkActs } from '../links/acts'

/** A link by which I gave something out. */
defineProps<{ link: Schemas['Link'] }>()
const { t } = useI18n()
const said = useSaid()
const acts = useLinkActs()
</script>

<template>
  <tr :data-given="link.name">
    <td class="f-lead"><Door state="open" /></td>
    <td class="no f-away">{{ link.items.length === 1 ? (link.items[0].ref ?? link.dossierCode) : link.dossierCode }}</td>
    <td class="f-main">
      <RouterLink :to="`/outward?link=${link.id}`" class="name">{{ link.name }}</RouterLink>
      <span class="s">{{ t(`desk.link.${link.kind}`) }}</span>
    </td>
    <td class="f-line">
      {{ t('desk.whoever') }}
      <span class="s" :title="said.full(link.at)">
        {{ said.when(link.at) + (link.sentTo.length ? `, ${t('outward.sentTo', { to: link.sentTo.join(', ') })}` : '') }}
      </span>
    </td>
    <td class="f-line">
      <span class="s two-lines"><Terms :sentence="link.sentence" /></span>
    </td>
    <td class="f-line">
      <template v-if="link.until">
        <span :title="said.full(link.until)">{{ said.when(link.until) }}</span>
        <span class="s">{{ said.ahead(link.until) }}</span>
      </template>
      <span v-else class="quiet">{{ t('desk.noEnd') }}</span>
    </td>
    <td class="r f-side">
      <button v-if="link.mayEnd" type="button" class="btn btn-plain btn-small" @click="acts.end(link)">{{ t('desk.end') }}</button>
    </td>
  </tr>
</template>

<style scoped>
td .two-lines {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  white-space: normal;
  line-height: 18px;
}
</style>
