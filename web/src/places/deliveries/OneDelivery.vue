<script setup lang="ts">
import { computed, onMounted, ref, useTemplateRef } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import IconKey from '~icons/ph/key'
import type { Schemas } from '../../api/client'
import { useDesk } from '../../queries/dossiers'
import { useSaid } from '../../sentences/said'
import Accepting from './Accepting.vue'
import { useDeliveryActs } from './acts'
import { useSealedDelivery } from './sealed'

/** What somebody sent: who they are, what they say, the files with what deserves caution, and whether one takes it. */
const props = defineProps<{ delivery: Schemas['Delivery'] }>()
const { t } = useI18n()
const said = useSaid()
const { data: desk } = useDesk(true)
const { accept, refuse, busy } = useDeliveryActs()
const { sealed, list, wrong, openBy, named, tooLarge, save, names } = useSealedDelivery(() => props.delivery)
const key = ref('')
const message = computed(() => props.delivery.message || list.value?.message)
const writing = ref<'' | 'where' | 'refuse'>('')
/** A notice leads to one of them. */
const route = useRoute()
const here = useTemplateRef('here')
onMounted(() => route.hash === `#${props.delivery.id}` && here.value?.scrollIntoView())
const waits = computed(() => !props.delivery.decidedAt)
const bytes = computed(() => props.delivery.files.reduce((sum, f) => sum + f.size, 0))
async function put(to: string, place: string) {
  if (await accept(props.delivery, to, place, list.value && names())) writing.value = ''
}
</script>

<template>
  <article :id="delivery.id" ref="here" :data-delivery="delivery.email">
    <div class="from">
      <h2>{{ delivery.name }}</h2>
      <p class="small">
        {{ delivery.email }}
        <span class="quiet">{{ t('deliveries.confirmed') }}</span>
      </p>
      <p class="small quiet">
        {{ said.when(delivery.at) }},
        {{ t('deliveries.files', { n: delivery.files.length, size: said.size(bytes) }, delivery.files.length) }}
      </p>
    </div>
    <div class="what">
      <p v-if="sealed" class="small">
        <IconKey aria-hidden="true" />
        <b>{{ t('deliveries.sealed') }}</b>
        <span class="quiet">{{ t(list ? 'deliveries.acceptSealed' : 'deliveries.needsKey') }}</span>
      </p>
      <form v-if="sealed && !list" class="acts opener" @submit.prevent="openBy(key)">
        <input
          v-model="key"
          class="form-control no"
          :aria-label="t('deliveries.keyLabel')"
          autocomplete="off"
          spellcheck="false"
          required
        />
        <button type="submit" class="btn btn-plain btn-small">{{ t('deliveries.open') }}</button>
      </form>
      <p v-if="wrong" class="t-caution small" role="alert">{{ wrong }}</p>
      <p v-if="message" class="terms letter">{{ message }}</p>
      <ul>
        <li v-for="f in delivery.files" :key="f.id" :data-file="f.name">
          <span class="name">{{ named(f) }}</span>
          <span class="small quiet" :title="t('deliveries.hash', { hash: f.sha256 })">{{ said.size(f.size) }}</span>
          <p v-if="list && (waits || delivery.accepted)" class="small saves">
            <span v-if="tooLarge(f)" class="quiet">{{ t('deliveries.saveLarge') }}</span>
            <button v-else type="button" class="go" @click="save(f)">{{ t('deliveries.save') }}</button>
          </p>
          <p v-if="f.caution" class="small caution">
            <span aria-hidden="true">◆</span>
            {{ t(`deliveries.caution.${f.caution}`) }}
          </p>
        </li>
      </ul>
      <p v-if="!waits" class="small quiet">
        {{ t(`deliveries.was.${delivery.accepted ? 'accepted' : 'refused'}`, { when: said.when(delivery.decidedAt!) }) }}
      </p>
      <Accepting v-else-if="writing === 'where'" :name="delivery.name" :busy="busy" @put="put" @close="writing = ''" />
      <div v-else-if="writing === 'refuse'" class="sure" role="alertdialog" :aria-label="t('deliveries.refuse')">
        <p>{{ t('deliveries.refuseSure', { name: delivery.name }) }}</p>
        <div class="acts">
          <button type="button" class="btn btn-plain btn-small" :disabled="busy" @click="refuse(delivery)">
            {{ t('deliveries.refuseDo') }}
          </button>
          <button type="button" class="btn btn-text btn-small" @click="writing = ''">{{ t('deliveries.refuseNot') }}</button>
        </div>
      </div>
      <div v-else class="acts">
        <button v-if="desk" type="button" class="btn btn-primary btn-small" :disabled="busy" @click="put(desk.id, t('move.desk'))">
          {{ t('deliveries.accept') }}
          {{ t('deliveries.ontoDesk') }}
        </button>
        <button type="button" class="btn btn-plain btn-small" @click="writing = 'where'">{{ t('deliveries.elsewhere') }}</button>
        <button type="button" class="btn btn-text btn-small" @click="writing = 'refuse'">{{ t('deliveries.refuse') }}</button>
      </div>
    </div>
  </article>
</template>

<style scoped>
article {
  display: grid;
  grid-template-columns: 240px minmax(0, 1fr);
  gap: var(--tb-s2) var(--tb-s5);
  padding: var(--tb-s3) 0;
  border-bottom: 1px solid var(--tb-rule);
}
h2 {
  overflow-wrap: anywhere;
}
.from p {
  margin: 0;
  overflow-wrap: anywhere;
}
.letter {
  margin-bottom: var(--tb-s2);
  white-space: pre-line;
  overflow-wrap: anywhere;
}
ul {
  list-style: none;
  margin: 0 0 var(--tb-s3);
  padding: 0;
  border: solid var(--tb-line);
  border-width: 1px 0;
}
li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: 0 var(--tb-s4);
  padding: 4px 0;
}
li + li {
  border-top: 1px solid var(--tb-line);
}
.name {
  overflow-wrap: anywhere;
}
.saves {
  grid-column: 1 / -1;
  margin: 0;
}
.opener {
  margin-bottom: var(--tb-s2);
}
.opener input {
  max-width: 420px;
}
.caution {
  grid-column: 1 / -1;
  margin: 0;
  color: var(--tb-caution-text);
}
.sure {
  border: 1px solid var(--tb-action);
  background: var(--tb-sheet);
  border-radius: 3px;
  padding: var(--tb-s3);
}
@media (max-width: 720px) {
  article {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
