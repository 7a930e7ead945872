<script setup lang="ts">
import { useI18n } from 'vue-i18n'
import Field from '../../parts/Field.vue'
import type { Writing } from './writing'

/** What goes with a link beside its terms: its name, its readable address, what the sender is told, the visitors' language. */
const props = defineProps<{ writing: Writing }>()
const { t } = useI18n()
const { terms, draft, link } = props.writing
</script>

<template>
  <Field v-slot="{ id }" :label="t('handout.name')" :hint="t('handout.nameHint')" quiet>
    <input :id="id" v-model="terms.name" class="form-control" data-field="link-name" :placeholder="draft?.name" />
  </Field>
  <Field v-slot="{ id }" :label="t('handout.slug')" :hint="terms.slug ? t('handout.slugHint') : ''" quiet>
    <input
      :id="id"
      v-model.lazy="terms.slug"
      class="form-control no"
      data-field="slug"
      :placeholder="t('handout.slugNone')"
      autocomplete="off"
      spellcheck="false"
      maxlength="26"
    />
  </Field>
  <Field v-slot="{ id }" :label="t('handout.tell')" quiet>
    <select :id="id" v-model="terms.tell" class="form-control" data-field="tell">
      <option v-for="w in ['never', 'each', 'daily'] as const" :key="w" :value="w">{{ t(`handout.telling.${w}`) }}</option>
    </select>
  </Field>
  <Field v-if="!link" v-slot="{ id }" :label="t('handout.language')" quiet>
    <select :id="id" v-model="terms.language" class="form-control" data-field="language">
      <option value="en">English</option>
      <option value="de">Deutsch</option>
    </select>
  </Field>
</template>

<style scoped>
select.form-control {
  height: 34px;
}
</style>
