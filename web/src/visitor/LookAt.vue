<script setup lang="ts">
import { defineAsyncComponent, onBeforeUnmount, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, data, Refusal, type Schemas } from '../api/client'
import Look from '../parts/looking/Look.vue'
import Over from '../parts/Over.vue'
import { useLooking } from './looking'
import { placeOf } from './router'
import { useThisVisit } from './visit'
import { say, sayLook } from './words'

/** A document over the whole page; closing it, or going back, leads back to where it lies. */
const props = defineProps<{ file: Schemas['LinkFile']; folder?: string; viewOnly: boolean; mayRemark: boolean }>()
const Talk = defineAsyncComponent(() => import('./Talk.vue'))
const talking = ref(false)
const DrawnPages = defineAsyncComponent(() => import('../parts/looking/DrawnPages.vue'))
const { token, base, failed } = useThisVisit()
const router = useRouter()
const content = `${base}/documents/${props.file.id}/content`
const eyes = useLooking(token)
eyes.begin(props.file.id)
onBeforeUnmount(() => eyes.end())

function close() {
  if (router.options.history.state.back === placeOf(token, props.folder)) router.back()
  else void router.replace(placeOf(token, props.folder))
}
/** A document that cannot be drawn says so itself; anything else concerns the link. */
function refused(e: unknown) {
  if (!(e instanceof Refusal) || e.code !== 'unshowable') failed(e)
}
const outline = () => data(api.GET('/visits/{token}/documents/{id}/pages', { params: { path: { token, id: props.file.id } } }))
const prepare = () => data(api.GET('/visits/{token}/documents/{id}/preview', { params: { path: { token, id: props.file.id } } }))
</script>

<template>
  <Over :label="file.name" class="view" @close="close">
    <header role="presentation">
      <h2>{{ file.name }}</h2>
      <a v-if="!viewOnly && !file.inHand" class="btn btn-plain" :href="`${content}?download`" download>{{ say('download') }}</a>
      <button v-if="mayRemark" type="button" class="btn btn-plain" :aria-pressed="talking" @click="talking = !talking">
        {{ say('talk') }}
      </button>
      <button type="button" class="btn btn-plain" autofocus @click="close">{{ say('close') }}</button>
    </header>
    <div class="beside" :class="{ talking }">
      <DrawnPages
        v-if="file.look === 'pages'"
        :name="file.name"
        :outline="outline"
        :picture="(n, width) => `${base}/documents/${file.id}/pages/${n}?width=${width}`"
        :word="sayLook"
        @seen="eyes.seen"
        @refused="refused"
      />
      <Look
        v-else
        :look="file.look"
        :content="content"
        :size="file.size"
        :name="file.name"
        :prepare="prepare"
        :word="sayLook"
        @seen="eyes.seen"
      />
      <Talk v-if="talking" :document="file.id" />
    </div>
  </Over>
</template>

<style scoped>
.beside {
  display: grid;
  grid-template: minmax(0, 1fr) / minmax(0, 1fr);
  min-height: 0;
}
.beside.talking {
  grid-template-columns: minmax(0, 1fr) 340px;
}
@media (max-width: 900px) {
  .beside.talking {
    grid-template: minmax(0, 1fr) minmax(0, 1fr) / minmax(0, 1fr);
  }
}
</style>
