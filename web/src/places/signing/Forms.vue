<script setup lang="ts">
import { computed } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute } from 'vue-router'
import Failed from '../../app/Failed.vue'
import { useForms } from '../../queries/signing'
import { useSaid } from '../../sentences/said'
import Letter from './Letter.vue'
import { letterOf } from './placing'

/** Forms that are sent again and again: one's own, and those that others share; sent into a folder, where an address names one. */
const { t } = useI18n()
const said = useSaid()
const at = useRoute()
const { data: forms, error, refetch } = useForms()
const into = computed(() => (typeof at.query.folder === 'string' ? at.fullPath.slice(at.fullPath.indexOf('?')) : ''))
</script>

<template>
  <main id="content" class="plain forms">
    <p class="small">
      <RouterLink class="go" to="/signing">{{ t('signing.title') }}</RouterLink>
    </p>
    <header>
      <div>
        <h1>{{ t('signforms.title') }}</h1>
        <p class="terms">{{ into ? t('signforms.chooseFor', { folder: at.query.name ?? '' }) : t('signforms.hint') }}</p>
      </div>
    </header>
    <Failed v-if="error && !forms" :error="error" @again="refetch()" />
    <p v-else-if="!forms" class="quiet">{{ t('common.loading') }}</p>
    <div v-else-if="!forms.length" class="empty">
      <h2>{{ t('signforms.none') }}</h2>
      <p>{{ t('signforms.noneHint') }}</p>
    </div>
    <ul v-else>
      <li v-for="f in forms" :key="f.id" :data-form="f.name">
        <div>
          <RouterLink class="name" :to="f.writes ? `/signing/forms/${f.id}` : `/signing/forms/${f.id}/send${into}`">
            {{ f.name }}
          </RouterLink>
          <span class="small quiet under">{{ f.description || `${f.ref} ${f.document.replace(/\.\w+$/, '')}` }}</span>
        </div>
        <p class="by">
          <span v-for="(p, i) in f.parties" :key="i" class="small">
            <Letter :letter="letterOf(i)" />
            {{ p.role || p.name || t('signforms.anybody') }}
          </span>
        </p>
        <p class="small quiet">
          {{
            f.edition
              ? `${t('signforms.edition', { n: f.edition })}${f.inWriting ? `, ${t('signforms.nextInWriting')}` : ''}`
              : t('signforms.inWriting')
          }}
          <span class="under">
            {{ f.mine ? (f.shared ? t('signforms.sharedByMe') : t('signforms.mineAlone')) : t('signforms.by', { name: f.maker }) }}
          </span>
        </p>
        <p class="small quiet">
          {{ t('signforms.used', f.used) }}
          <span v-if="f.lastUsed" class="under">{{ t('signforms.last', { when: said.when(f.lastUsed) }) }}</span>
        </p>
        <RouterLink v-if="f.edition" class="btn btn-plain btn-small" :to="`/signing/forms/${f.id}/send${into}`" data-use>
          {{ t('signforms.send') }}
        </RouterLink>
        <span v-else></span>
      </li>
    </ul>
  </main>
</template>

<style scoped>
.forms ul {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1px solid var(--tb-ink);
}
.forms li {
  display: grid;
  grid-template-columns: minmax(0, 2fr) minmax(0, 2fr) minmax(0, 1.4fr) minmax(0, 1fr) auto;
  gap: var(--tb-s4);
  align-items: center;
  padding: 8px 0;
  border-bottom: 1px solid var(--tb-line);
}
.forms li p {
  margin: 0;
}
.name {
  font-weight: 560;
  color: inherit;
  text-decoration: none;
}
.under {
  display: block;
}
.by {
  display: grid;
  gap: 2px;
}
@media (max-width: 900px) {
  .forms li {
    grid-template-columns: minmax(0, 1fr) auto;
  }
  .forms li > p:nth-of-type(n + 2) {
    display: none;
  }
  .by {
    grid-column: 1;
  }
  .forms li > a:last-child {
    grid-row: 1;
    grid-column: 2;
  }
}
</style>
