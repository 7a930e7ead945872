<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import type { Schemas } from '../../api/client'
import Choices from '../../parts/Choices.vue'
import LimitGloss from '../../sentences/LimitGloss.vue'
import MomentField from '../../sentences/MomentField.vue'
import UntilGloss from '../../sentences/UntilGloss.vue'
import SealGloss from './SealGloss.vue'
import type { Writing } from './writing'

/** The control of the word that is opened in the sentence of a link. */
const props = defineProps<{ writing: Writing }>()
const { t } = useI18n()
const { terms, opened, draft, isFolder, drop, offerPassword, link } = props.writing

/** What a visitor may do: one of the kinds, and what belongs to it. */
type Way = 'download' | 'view' | 'working' | 'intake' | 'fill'
const kindOf = (w: Way) => (w === 'intake' || w === 'working' || w === 'fill' ? w : terms.kind === 'transfer' ? 'transfer' : 'hand-out')
const ways = computed(() =>
  (['download', 'view', 'working', 'intake', 'fill'] as const)
    .filter((w) =>
      terms.kind === 'transfer' ? kindOf(w) === 'transfer' : (draft.value?.kinds.includes(kindOf(w)) ?? kindOf(w) === 'hand-out'),
    )
    .map((w) => ({
      value: w,
      words: t(`handout.way.${w}`),
      why: t(`handout.wayWhy.${w}`),
      disabled: !!link && kindOf(w) !== link.kind,
    })),
)
const way = computed<Way>(() =>
  terms.kind === 'intake' || terms.kind === 'working' || terms.kind === 'fill' ? terms.kind : terms.viewOnly ? 'view' : 'download',
)
function setWay(w: Way) {
  terms.kind = kindOf(w)
  terms.viewOnly = w === 'view'
}
const identities = computed(() =>
  (['none', 'stated', 'confirmed', 'signed-in'] as const).map((i) => ({
    value: i,
    words: t(`handout.identity.${i}`),
    why: t(`handout.identityWhy.${i}`),
  })),
)
function setIdentity(i: Schemas['Identity']) {
  terms.identify = i
  if (i === 'none') drop('allowed')
}
const versions = computed(() =>
  (['this', 'newest'] as const).map((v) => ({
    value: v,
    words: t(`handout.${v}${isFolder.value ? 'Folder' : 'Version'}`),
    why: t(v === 'newest' ? 'handout.newestWhy' : 'handout.thisVersionWhy'),
  })),
)
/** How much an intake takes is typed in MB; while nothing is typed the limit stays. */
const intakeMegabytes = computed({
  get: () => terms.intakeBytes && Math.round(terms.intakeBytes / 1e6),
  set: (n) => (terms.intakeBytes = n ? Math.max(1, n) * 1e6 : terms.intakeBytes),
})
</script>

<template>
  <UntilGloss
    v-if="opened === 'until'"
    :until="terms.until ?? draft?.usualUntil ?? ''"
    :latest="draft?.latestUntil ?? ''"
    :out="link?.until"
    @set="terms.until = $event"
  />
  <Choices v-else-if="opened === 'may'" :label="t('access.mayLabel')" :options="ways" :chosen="way" @choose="setWay" />
  <Choices
    v-else-if="opened === 'identify'"
    :label="t('handout.identityLabel')"
    :options="identities"
    :chosen="terms.identify"
    @choose="setIdentity"
  />
  <Choices
    v-else-if="opened === 'version'"
    :label="t('handout.versionLabel')"
    :options="versions"
    :chosen="terms.newest ? 'newest' : 'this'"
    @choose="terms.newest = $event === 'newest'"
  />
  <LimitGloss
    v-else-if="opened === 'openings'"
    v-model="terms.openings"
    :unit="t('handout.openingsUnit')"
    :most="100000"
    :offers="[1, 3, 5, 10]"
    @drop="drop('openings')"
  />
  <LimitGloss
    v-else-if="opened === 'downloads'"
    v-model="terms.downloads"
    :unit="t('handout.downloadsUnit')"
    :most="100000"
    @drop="drop('downloads')"
  />
  <LimitGloss
    v-else-if="opened === 'intakeFiles'"
    v-model="terms.intakeFiles"
    :unit="t('handout.filesUnit')"
    :most="10000"
    @drop="drop('intakeFiles')"
  />
  <LimitGloss v-else-if="opened === 'intakeBytes'" v-model="intakeMegabytes" unit="MB" @drop="drop('intakeBytes')" />
  <div v-else-if="opened === 'password'" class="acts row-gloss">
    <label for="password">{{ t('handout.password') }}</label>
    <input id="password" v-model="terms.password" class="form-control no" autocomplete="off" spellcheck="false" style="width: 240px" />
    <button type="button" @click="offerPassword">{{ t('handout.offer') }}</button>
    <button type="button" class="far" @click="drop('password')">{{ t('handout.noPassword') }}</button>
  </div>
  <div v-else-if="opened === 'notBefore'" class="acts row-gloss">
    <MomentField :label="t('handout.from')" :at="terms.notBefore" begins @set="terms.notBefore = $event" />
    <button type="button" class="far" @click="drop('notBefore')">{{ t('handout.fromNow') }}</button>
  </div>
  <div v-else-if="opened === 'remarks'" class="acts row-gloss">
    <span class="small">{{ t('handout.remarksWhy') }}</span>
    <button type="button" class="far" @click="drop('remarks')">{{ t('handout.noRemarks') }}</button>
  </div>
  <SealGloss v-else-if="opened === 'sealed'" :writing="writing" />
  <div v-else-if="opened === 'intakeEndings'" class="acts row-gloss">
    <label for="intake-endings">{{ t('handout.endings') }}</label>
    <input id="intake-endings" v-model.lazy="terms.intakeEndings" class="form-control moment" autocomplete="off" spellcheck="false" />
    <button type="button" class="far" @click="drop('intakeEndings')">{{ t('handout.anyKind') }}</button>
  </div>
</template>

<style scoped>
.moment {
  width: 210px;
}
</style>
