<script setup lang="ts">
import { computed } from 'vue'
import { I18nT, useI18n } from 'vue-i18n'
import IconCaution from '~icons/ph/warning-diamond'
import IconEye from '~icons/ph/eye'
import type { Schemas } from '../../api/client'
import { stemOf } from '../../i18n/words'
import { useSaid } from '../../sentences/said'

/** What a link would mean, before it is made: what can be opened by it, and what of that is sensitive. */
const props = defineProps<{ draft: Schemas['LinkDraft']; meant: boolean; password: boolean }>()
const { t } = useI18n()
const said = useSaid()
/** The documents in which something sensitive was found. */
const holding = computed(() => new Set(props.draft.sensitive.map((f) => f.item)).size)
const before = computed(() => {
  const { linkedBefore: n, files } = props.draft
  if (!n) return t('handout.beforeNone')
  return files === 1 ? t('handout.beforeOne') : t('handout.before', { n: said.count(n) }, n)
})
</script>

<template>
  <div class="consequence">
    <div>
      <IconEye aria-hidden="true" />
      <span>
        <I18nT :keypath="meant ? 'handout.meant' : password ? 'handout.both' : 'handout.newly'" scope="global">
          <template #files>
            <b>{{ t('common.files', { n: draft.files }, draft.files) }}</b>
          </template>
          <template #size>{{ said.size(draft.bytes) }}</template>
        </I18nT>
        {{ before }}
        <span class="quiet">{{ t('handout.view') }}</span>
      </span>
      <span></span>
    </div>
    <div v-if="draft.sensitive.length" class="found">
      <IconCaution aria-hidden="true" />
      <div role="status">
        <b>{{ t(draft.forbidden ? 'sensitive.forbidden' : 'sensitive.found', { n: holding }, holding) }}</b>
        <ul>
          <li v-for="f in draft.sensitive.slice(0, 6)" :key="f.item + f.kind + f.name">
            <span class="no">{{ f.ref.split('/')[1] }}</span>
            {{ stemOf(f.document) }}: {{ t(`sensitive.kind.${f.kind}`, { n: f.n, name: f.name }, f.n) }},
            {{ f.page ? t('sensitive.page', { n: f.page }) : t('sensitive.line', { n: f.line }) }}
            <span v-if="f.kind !== 'own'" class="no quiet">{{ f.shown }}</span>
          </li>
          <li v-if="draft.sensitive.length > 6" class="quiet">{{ t('sensitive.more', { n: draft.sensitive.length - 6 }) }}</li>
        </ul>
      </div>
      <span></span>
    </div>
    <p v-if="draft.left" class="small quiet">{{ t('sensitive.left', { n: draft.left }, draft.left) }}</p>
  </div>
</template>
