<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, data, type Schemas } from '../api/client'
import type { SealedFile } from '../sealed/manifest'
import { namedIn } from '../sealed/naming'
import { sizeWords } from '../i18n/words'
import { useThisVisit } from './visit'
import { language, say } from './words'

/** How a visitor says that they are done: who they are, a note, and the receipt they get. */
const props = defineProps<{ intake: Schemas['VisitIntake']; practice: string; coming: boolean; address: boolean; sealed: SealedFile[] }>()
const emit = defineEmits<{ changed: [intake: Schemas['VisitIntake']] }>()
const { token, wrong, trying } = useThisVisit()
const name = ref('')
const email = ref(props.intake.email)
const note = ref('')
const done = ref(false)
/** Of an intake everything is handed in together, again and again; to an address goes what was not sent off yet. */
const unsent = computed(() => props.intake.received.filter((f) => !props.address || !f.handedIn))
const sentOff = ref<string[]>([])
const busy = ref(false)

/** Files that came before this page was loaded anew: what they are called is lost. */
const unknown = computed(() => !!props.intake.sealsFor && unsent.value.some((f) => !namedIn(props.sealed, f.name)))
async function listFor(recipient: string): Promise<string> {
  const { sealList } = await import('../sealed/parcel')
  const named = unsent.value.flatMap((f) => namedIn(props.sealed, f.name) ?? [])
  return sealList(named, note.value, recipient)
}
async function handIn() {
  busy.value = true
  await trying(async () => {
    const recipient = props.intake.sealsFor
    const words = recipient ? { manifest: await listFor(recipient) } : { note: note.value || undefined }
    const body = { name: name.value || undefined, email: email.value || undefined, ...words }
    sentOff.value = unsent.value.map((f) => f.id)
    emit('changed', await data(api.POST('/visits/{token}/intake', { params: { path: { token } }, body })))
    done.value = true
  })
  busy.value = false
}
</script>

<template>
  <section v-if="done && !(address && unsent.length)" class="receipt" role="status">
    <h2>{{ say('thanks') }}</h2>
    <p class="quiet">{{ email ? say('receiptMailed', { email }) : say('receiptKeep') }}</p>
    <dl>
      <template v-for="f in intake.received.filter((r) => sentOff.includes(r.id))" :key="f.name + f.at">
        <dt>{{ namedIn(sealed, f.name)?.name ?? f.name }}</dt>
        <dd class="small quiet">
          {{ sizeWords(f.size, language) }}, SHA-256
          <span class="no">{{ f.sha256 }}</span>
        </dd>
      </template>
    </dl>
  </section>
  <form v-else-if="unsent.length" class="finish" @submit.prevent="handIn">
    <div>
      <label for="who">{{ say('yourName') }}</label>
      <input id="who" v-model="name" class="form-control" autocomplete="name" maxlength="200" :required="address" />
    </div>
    <div>
      <label for="receipt-to">{{ say('receiptTo') }}</label>
      <input id="receipt-to" v-model="email" class="form-control" type="email" autocomplete="email" :readonly="!!intake.email" />
    </div>
    <div class="whole">
      <label for="note">{{ say('note', { practice: address ? intake.sender.name : practice }) }}</label>
      <textarea id="note" v-model="note" class="form-control" rows="2" maxlength="5000"></textarea>
    </div>
    <p v-if="wrong" class="wrong whole" role="alert">{{ wrong }}</p>
    <p v-if="unknown" class="wrong whole" role="alert">{{ say('sealsLost') }}</p>
    <div class="whole">
      <button type="submit" class="btn btn-primary big" :disabled="busy || coming || unknown">
        {{ say(address ? 'sendOff' : 'done') }}
      </button>
      {{ ' ' }}
      <span class="small quiet">{{ say(coming ? 'waitComing' : 'comeBack') }}</span>
    </div>
  </form>
</template>

<style scoped>
.finish {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 14px 20px;
  margin-top: 28px;
  padding-top: 18px;
  border-top: 1px solid var(--tb-line);
}
.whole {
  grid-column: 1 / -1;
}
.finish label {
  font-size: var(--tb-text);
  font-weight: 560;
}
.receipt {
  margin-top: 28px;
  padding: 18px 20px;
  border: 1px solid var(--tb-done);
  border-radius: 3px;
}
dl {
  margin: var(--tb-s3) 0 0;
}
dt {
  font-weight: 560;
}
dd {
  margin: 0 0 var(--tb-s2);
  overflow-wrap: anywhere;
}
@media (max-width: 720px) {
  .finish {
    grid-template-columns: 1fr;
  }
}
</style>
