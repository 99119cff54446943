<script setup lang="ts">
import type { DraftWork } from '~/composables/useDraft'

/** The dataset as a whole: its title, how often, when it opens, falls due and closes, and who reports it. */
const { work, levels } = defineProps<{ work: DraftWork; levels: string[] }>()
const { t } = useI18n()
const LANGUAGES = ['en', 'fr']
const FREQUENCIES = ['day', 'week', 'month', 'quarter', 'halfYear', 'year'] as const
const draft = computed(() => work.draft.value!)
const reports = computed(() => work.reports.value!)
</script>

<template>
  <section class="card stack">
    <h2>{{ t('draft.dataset') }}</h2>
    <div class="row fields">
      <div v-for="language in LANGUAGES" :key="language" class="field wide"><label :for="`title-${language}`">{{ t('draft.title') }} ({{ language }})</label><InputText :id="`title-${language}`" v-model="draft.name[language]" maxlength="200" /></div>
    </div>
    <div class="row fields">
      <div class="field"><label for="frequency">{{ t('draft.frequency') }}</label><select id="frequency" v-model="draft.frequency" :disabled="Boolean(work.file.value?.published)"><option v-for="one in FREQUENCIES" :key="one" :value="one">{{ t(`draft.every.${one}`) }}</option></select></div>
      <div class="field"><label for="opens">{{ t('draft.opensAhead') }}</label><input id="opens" v-model.number="draft.timing.opensAhead" type="number" min="0" max="60"></div>
      <div class="field"><label for="due">{{ t('draft.dueDays') }}</label><input id="due" v-model.number="draft.timing.dueDays" type="number" min="0" max="400"></div>
      <div class="field"><label for="closes">{{ t('draft.closeDays') }}</label><input id="closes" v-model.number="draft.timing.closeDays" type="number" min="0" max="400"></div>
    </div>
    <div class="row fields">
      <div class="field"><label for="level">{{ t('draft.who') }}</label><select id="level" v-model.number="reports.level"><option v-for="(name, at) in levels" :key="at" :value="at + 1">{{ name }}</option></select></div>
      <div class="field"><label for="from">{{ t('units.day') }}</label><InputText id="from" v-model="reports.from" type="date" required /></div>
      <p class="quiet">{{ t('draft.units', { count: work.file.value?.units ?? 0 }, work.file.value?.units ?? 0) }}</p>
    </div>
  </section>
</template>

<style scoped>
.fields { align-items: flex-end; gap: 14px; }
.field { display: flex; flex-direction: column; gap: 3px; }
.wide { flex: 1; min-width: 220px; }
.field label { font-size: 14px; font-weight: 600; color: var(--ink-7); }
select, input[type='number'] { font: inherit; padding: 7px 9px; border: 1px solid var(--line); border-radius: 8px; background: var(--card); color: var(--ink-9); }
input[type='number'] { width: 110px; }
</style>
