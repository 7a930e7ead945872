<script setup lang="ts">
import { computed } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import { RouterLink } from 'vue-router'
import type { Schemas } from '../api/client'
import { useSaid } from './said'
import { stemOf } from '../i18n/words'

/** What happened, as a sentence with the names as ways to what they name. */
const props = defineProps<{ event: Schemas['Event'] }>()
const { t, te } = useI18n()
const said = useSaid()
const key = computed(() => `event.${props.event.kind.replace('.', '_')}`)
const data = computed(() => props.event.data ?? {})
const itemName = computed(() =>
  stemOf(props.event.itemName ?? (props.event.kind.startsWith('access.') ? props.event.dossierName : data.value.name) ?? ''),
)
const to = computed(() => {
  const e = props.event
  if (e.itemKind === 'document' && e.ref) return `/d/${e.ref}`
  if (e.kind.startsWith('access.') && e.itemKind === 'folder') return `/dossiers/${e.dossierCode}/${e.itemId}`
  return e.folderId || e.kind.startsWith('access.') ? `/dossiers/${e.dossierCode}` : undefined
})
const levelWords = computed(() =>
  data.value.may
    ? data.value.may
        .split(' ')
        .map((c) => t(`capability.${c}`))
        .join(', ')
    : data.value.level
      ? t(`level.${data.value.level}`)
      : '',
)
const detail = computed(() => {
  const e = props.event
  const d = data.value
  const parts: string[] = []
  if (d.email) parts.push(t(`knownHow.${d.known ?? 'stated'}`, { email: d.email }))
  if (d.copy) parts.push(t('copyFor', { to: d.copy }))
  if (d.person && e.kind === 'link.handed-in') parts.push(d.person)
  if (d.title) parts.push(d.title)
  if (d.note) parts.push(`“${d.note}”`)
  if (d.missing) parts.push(d.missing)
  if (d.opening) parts.push(d.limit ? t('openingOf', { n: d.opening, limit: d.limit }) : t('opening', { n: d.opening }))
  if (d.reason) parts.push(te(`reason.${d.reason}`, 'en') ? t(`reason.${d.reason}`) : d.reason)
  if (e.version && e.kind.startsWith('link.')) parts.push(`v. ${e.version}`)
  if (d.sha256 && e.kind.startsWith('link.')) parts.push(`SHA-256 ${d.sha256.slice(0, 8)}…`)
  if (d.until) parts.push(t('access.until', { when: said.when(d.until) }))
  if (d.terms) parts.push(d.terms)
  if (e.outside && e.network) parts.push(t('activity.from', { network: e.network }) + (e.agent ? `, ${e.agent}` : ''))
  return parts.join('; ')
})
defineExpose({ detail })
</script>

<template>
  <span>
    <I18nT :keypath="key" tag="span" scope="global">
      <template #actor>
        <b>{{ event.actor || t('common.somebody') }}</b>
      </template>
      <template #item>
        <RouterLink v-if="to" :to="to">{{ itemName }}</RouterLink>
        <template v-else>{{ itemName }}</template>
        {{ ' ' }}
        <span v-if="event.ref" class="no">{{ event.ref.split('/')[1] }}</span>
      </template>
      <template #link>
        <RouterLink :to="`/outward?link=${event.linkId}`">“{{ event.linkName }}”</RouterLink>
      </template>
      <template #dossier>
        <RouterLink :to="`/dossiers/${event.dossierCode}`">{{ event.dossierName }}</RouterLink>
      </template>
      <template #version>{{ event.version }}</template>
      <template #versions>{{ data.versions ? t('keeping.versions', { n: data.versions }, Number(data.versions)) : '' }}</template>
      <template #person>{{ data.person }}</template>
      <template #level>{{ levelWords }}</template>
      <template #standing>{{ data.standing ? t(`people.standing.${data.standing}`) : '' }}</template>
      <template #member>{{ data.member }}</template>
      <template #group>{{ data.name }}</template>
      <template #from>{{ data.from ? stemOf(data.from) : '' }}</template>
      <template #values>{{ data.values }}</template>
      <template #transfer>{{ data.transfer }}</template>
      <template #route>“{{ data.route }}”</template>
      <template #to>{{ data.to || (event.kind.startsWith('access.') ? t('access.everyoneHere') : '') }}</template>
    </I18nT>
    <span v-if="detail" class="x">{{ detail }}</span>
  </span>
</template>
