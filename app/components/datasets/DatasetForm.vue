<script setup lang="ts">
import { FREQUENCIES } from '#core/calendar/period'
import type { DraftWork } from '~/define/useDraft'

/** The dataset as a whole: its title, how often, and when it opens, falls due and closes. */
const { work } = defineProps<{ work: DraftWork }>()
const { t } = useI18n()
const EVERY = [...FREQUENCIES, 'financialYear'] as const
const draft = computed(() => work.draft.value!)
</script>

<template>
  <section class="card stack">
    <h2>{{ t('draft.dataset') }}</h2>
    <WordsField v-model="draft.name" input-id="title" :label="t('draft.title')" :most="200" />
    <div class="fields">
      <PickOne
        v-model="draft.frequency"
        input-id="frequency"
        :label="t('draft.frequency')"
        :options="EVERY.map(one => ({ value: one, label: t(`draft.every.${one}`) }))"
        :disabled="Boolean(work.file.value?.published)"
      />
      <div class="field">
        <label for="opens">{{ t('draft.opensAhead') }}</label><NumberField
          v-model="draft.timing.opensAhead"
          input-id="opens"
          :min="0"
          :max="60"
        />
      </div>
      <div class="field">
        <label for="due">{{ t('draft.dueDays') }}</label><NumberField
          v-model="draft.timing.dueDays"
          input-id="due"
          :min="0"
          :max="400"
        />
      </div>
      <div class="field">
        <label for="closes">{{ t('draft.closeDays') }}</label><NumberField
          v-model="draft.timing.closeDays"
          input-id="closes"
          :min="0"
          :max="400"
        />
      </div>
    </div>
  </section>
</template>
