<script setup lang="ts">
import { noticeKeys, useNotices } from '../queries/notices'
import { useQueryClient } from '@tanstack/vue-query'
import { onClickOutside } from '@vueuse/core'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import IconBell from '~icons/ph/bell-simple'
import { api } from '../api/client'
import { useSaid } from '../sentences/said'
import { useSession } from './session'

/** What concerns me, newest first; looking at them is all they ask for. */
const { t } = useI18n()
const said = useSaid()
const store = useSession()
const queries = useQueryClient()
const open = ref(false)
const holder = ref<HTMLElement>()
const { data: all } = useNotices(open)

async function toggle() {
  open.value = !open.value
  if (open.value) return
  await close()
}
/** What was new stays marked until the list is put away. */
async function close() {
  open.value = false
  if (!store.session?.notices) return
  await api.PUT('/notices')
  await Promise.all([store.refresh(), queries.invalidateQueries({ queryKey: noticeKeys.all })])
}
onClickOutside(holder, () => open.value && void close())
</script>

<template>
  <div ref="holder" class="notices" @keydown.esc.stop="open && close()">
    <button
      type="button"
      class="tray-button"
      :aria-expanded="open"
      :aria-label="t('notices.label', { n: store.session?.notices ?? 0 })"
      :title="t('notices.title')"
      @click="toggle"
    >
      <IconBell aria-hidden="true" />
      <span v-if="store.session?.notices">{{ store.session.notices }}</span>
    </button>
    <section v-if="open" :aria-label="t('notices.title')">
      <h2>{{ t('notices.title') }}</h2>
      <ul v-if="all?.length">
        <li v-for="n in all" :key="n.id" :class="{ fresh: !n.seen }">
          <component :is="n.path ? 'RouterLink' : 'span'" :to="n.path || undefined" @click="close">
            <span>{{ t(`notices.${n.kind}`, { by: n.by || t('common.somebody'), what: n.what }) }}</span>
            <span class="small quiet" :title="said.full(n.at)">{{ said.when(n.at) }}</span>
          </component>
        </li>
      </ul>
      <p v-else-if="all" class="quiet small">{{ t('notices.none') }}</p>
      <p v-else class="quiet small">{{ t('common.loading') }}</p>
    </section>
  </div>
</template>

<style scoped>
.notices {
  position: relative;
}
section {
  position: absolute;
  right: 0;
  top: calc(100% + 6px);
  width: min(380px, calc(100vw - 24px));
  max-height: 70vh;
  overflow-y: auto;
  z-index: var(--tb-layer-menu);
  background: var(--tb-sheet);
  color: var(--tb-ink);
  border: 1px solid var(--tb-rule);
  border-top: 2px solid var(--tb-ink);
  border-radius: 3px;
  box-shadow: 0 6px 24px var(--tb-shade);
  padding: 10px 14px 12px;
}
li > * {
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto;
  gap: var(--tb-s3);
  padding: 7px 0;
  border-top: 1px solid var(--tb-line);
  font-size: var(--tb-text);
  line-height: 19px;
  color: inherit;
  text-decoration: none;
  overflow-wrap: anywhere;
}
li > a:hover {
  background: var(--tb-selection);
}
.fresh > * > span:first-child {
  font-weight: 620;
}
h2 {
  margin-bottom: 6px;
}
@media (max-width: 900px) {
  section {
    position: fixed;
    right: 12px;
    top: 54px;
  }
}
</style>
