<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, data } from '../../api/client'
import Missing from '../../app/Missing.vue'

/** The lasting address of a document leads to where it stands now. */
const props = defineProps<{ code: string; number: string }>()
const route = useRoute()
const router = useRouter()
const missing = ref(false)

onMounted(async () => {
  try {
    const place = await data(
      api.GET('/register-numbers/{code}/{number}', { params: { path: { code: props.code, number: Number(props.number) } } }),
    )
    await router.replace({
      path: `/dossiers/${place.dossierCode}/${place.folderId}`,
      query: { ...route.query, document: place.id },
    })
  } catch {
    missing.value = true
  }
})
</script>

<template>
  <Missing v-if="missing" />
  <main v-else id="content" class="plain"></main>
</template>
