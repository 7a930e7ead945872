<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { computed, defineAsyncComponent, provide, ref } from 'vue'
import { isCommand, isTyping } from '../parts/keys'
import Gate from './Gate.vue'
import Languages from './Languages.vue'
import Letter from './Letter.vue'
import Papers from './Papers.vue'
import { useVisit, visitKey } from './visit'
import { say } from './words'

const Sealed = defineAsyncComponent(() => import('./Sealed.vue'))
const ToSign = defineAsyncComponent(() => import('./ToSign.vue'))
const Sent = defineAsyncComponent(() => import('./Sent.vue'))
const ToFill = defineAsyncComponent(() => import('./ToFill.vue'))
const Intake = defineAsyncComponent(() => import('./Intake.vue'))
const ToWrite = defineAsyncComponent(() => import('./ToWrite.vue'))
const VisitorHelp = defineAsyncComponent(() => import('./VisitorHelp.vue'))
const LookAt = defineAsyncComponent(() => import('./LookAt.vue'))
/** What an outsider sees: who gives, under which terms, and the papers. No account, no chrome. */
const props = defineProps<{ token: string; folder?: string; document?: string; writes?: boolean }>()
const visit = useVisit(props.token, () => props.folder)
provide(visitKey, visit)
const { front, given, taking, sent, filling, state } = visit
const helping = ref(false)
useEventListener('keydown', (e) => {
  if (e.key === '?' && !isTyping(e) && !isCommand(e)) helping.value = true
})
/** Every document that is given, also as a file of a transfer. */
const documents = computed(() => given.value?.files ?? sent.value?.files.flatMap((f) => f.document ?? []))
const looking = computed(() => documents.value?.find((f) => f.id === props.document))
</script>

<template>
  <VisitorHelp v-if="helping" :sender="front?.sender || front?.practice || ''" @close="helping = false" />
  <main v-if="state === 'gone'" class="gone">
    <h1>{{ say('gone') }}</h1>
    <p class="terms">{{ say('goneWhy') }}</p>
    <p>
      <button type="button" class="go" @click="helping = true">{{ say('help') }}</button>
    </p>
  </main>
  <main v-else-if="state === 'offline'" class="gone">
    <h1>{{ say('offline') }}</h1>
    <button type="button" class="btn btn-plain" @click="visit.arrive()">{{ say('tryAgain') }}</button>
  </main>
  <main v-else-if="state === 'loading'" class="gone quiet">{{ say('loading') }}</main>
  <ToSign v-else-if="given?.toSign" />
  <div v-else class="rec">
    <Letter @help="helping = true" />
    <main class="enc">
      <Languages />
      <Gate v-if="state === 'front'" />
      <Intake
        v-else-if="taking"
        :intake="taking"
        :address="front?.kind === 'address'"
        :practice="front?.practice ?? ''"
        @changed="taking = $event"
      />
      <ToFill v-else-if="filling" :form="filling" />
      <Sealed v-else-if="sent?.sealed" :sent="sent" />
      <Sent v-else-if="sent" :sent="sent" />
      <Papers v-else-if="given" :given="given" :folder="folder" />
    </main>
    <ToWrite v-if="looking && writes && given?.mayAdd" :key="looking.id" :file="looking" :folder="folder" />
    <LookAt
      v-else-if="looking"
      :key="looking.id"
      :file="looking"
      :folder="folder"
      :view-only="!!(given ?? sent)?.viewOnly"
      :may-remark="!!given?.mayRemark"
    />
  </div>
</template>
