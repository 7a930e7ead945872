<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import IconPlane from '~icons/ph/paper-plane-tilt'
import { useSaid } from '../../sentences/said'
import { stemOf } from '../../i18n/words'
import { usePlayer } from '../../app/player'
import ParticularsTogether from '../particulars/ParticularsTogether.vue'
import TagField from '../tags/TagField.vue'
import { mostAtOnce, recordingsOf, type Thing } from './things'

/** What is chosen together, and what can be done with all of it. */
const props = defineProps<{ things: Thing[]; archive?: string; mayShare: boolean; mayMove: boolean; mayCopy: boolean; mayAsk: boolean }>()
defineEmits<{ ask: []; giveOut: []; letIn: []; send: []; move: []; copy: []; remove: []; leave: [thing: Thing] }>()
const { t } = useI18n()
const { play } = usePlayer()
const recordings = computed(() => recordingsOf(props.things))
const said = useSaid()
/** Two documents can be compared. */
const pair = computed(() =>
  props.things.length === 2 && props.things.every((o) => o.kind === 'document' && o.may.includes('download')) ? props.things : undefined,
)
const size = computed(() => said.size(props.things.reduce((sum, r) => sum + r.size, 0)))
const documents = computed(() => props.things.filter((o) => o.kind === 'document').length)
/** Folders bear no tags. */
const tagged = computed(() => props.things.filter((o) => o.kind === 'document').map((o) => o.id))
/** So many are listed; the others are in the sum. */
const mostListed = 100
const mayChange = computed(() => props.things.every((o) => o.kind === 'folder' || o.may.includes('change')))
const folders = computed(() => props.things.length - documents.value)
const what = computed(() =>
  said.list([
    ...(folders.value ? [t('common.folders', { n: folders.value }, folders.value)] : []),
    ...(documents.value ? [t('common.documents', { n: documents.value }, documents.value)] : []),
  ]),
)
</script>

<template>
  <aside class="slip only-wide-slip" :aria-label="t('slip.chosen')">
    <header>
      <span class="no quiet">{{ what }}</span>
      <h2>{{ t('slip.chosen') }}</h2>
      <div class="acts wrap">
        <button v-if="mayShare && things.length <= mostAtOnce" type="button" class="btn btn-plain btn-small" @click="$emit('giveOut')">
          <IconPlane class="i i-s" aria-hidden="true" />
          {{ t('dossier.giveOut') }}
        </button>
        <button v-if="mayAsk" type="button" class="btn btn-plain btn-small" @click="$emit('ask')">{{ t('decisions.ask.verb') }}</button>
        <button v-if="mayShare && things.length <= mostAtOnce" type="button" class="btn btn-plain btn-small" @click="$emit('letIn')">
          {{ t('access.letIn') }}
        </button>
        <button
          v-if="mayShare && mayCopy && things.length <= mostAtOnce"
          type="button"
          class="btn btn-plain btn-small"
          @click="$emit('send')"
        >
          {{ t('transfers.menu') }}
        </button>
        <button v-if="mayMove" type="button" class="btn btn-plain btn-small" @click="$emit('move')">{{ t('move.menu') }}</button>
        <button v-if="mayCopy" type="button" class="btn btn-plain btn-small" @click="$emit('copy')">{{ t('copy.menu') }}</button>
        <button v-if="mayMove" type="button" class="btn btn-plain btn-small" @click="$emit('remove')">{{ t('deletion.menu') }}</button>
        <button v-if="recordings.length" type="button" class="btn btn-plain btn-small" @click="play(recordings)">
          {{ t('player.play', { n: recordings.length }, recordings.length) }}
        </button>
        <RouterLink v-if="pair" class="btn btn-plain btn-small" :to="`/compare/${pair[0]!.id}?with=${pair[1]!.id}`">
          {{ t('comparison.compareTwo') }}
        </RouterLink>
        <a v-if="archive" class="btn btn-plain btn-small" :href="archive" download>{{ t('common.downloadSize', { size }) }}</a>
      </div>
    </header>
    <section v-if="tagged.length" class="tagging">
      <TagField :documents="tagged" :may-shared="mayChange" />
    </section>
    <p v-if="things.length > mostAtOnce" class="quiet small">{{ t('slip.manyChosen', { n: mostAtOnce }) }}</p>
    <ParticularsTogether v-else-if="tagged.length" :documents="tagged" :may-change="mayChange" />
    <section v-for="o in things.slice(0, mostListed)" :key="o.id">
      <div class="sum">
        <span>
          <b>{{ o.no }}</b>
          {{ o.kind === 'folder' ? o.name : stemOf(o.name) }}
          <span class="quiet small">
            {{
              o.kind === 'folder'
                ? `${t('common.documents', { n: o.documents }, o.documents)}, ${said.size(o.size)}`
                : `v. ${o.version}, ${said.size(o.size)}`
            }}
          </span>
        </span>
        <button type="button" class="go small" :aria-label="`${t('dossier.unchooseOne')} ${o.no} ${o.name}`" @click="$emit('leave', o)">
          {{ t('dossier.leaveOut') }}
        </button>
      </div>
    </section>
    <p v-if="things.length > mostListed" class="quiet small">{{ t('slip.moreChosen', { n: things.length - mostListed }) }}</p>
  </aside>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
.sum {
  display: flex;
  justify-content: space-between;
  gap: var(--tb-s2);
}
@media (max-width: 900px) {
  .only-wide-slip {
    display: none;
  }
}
</style>
